export { GET } from '@/server/routes/find';
export const dynamic = 'force-dynamic';
