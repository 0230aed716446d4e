export { GET } from '@/server/routes/identity';
export const dynamic = 'force-dynamic';
