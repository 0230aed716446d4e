export { GET } from '@/server/routes/thing';
export const dynamic = 'force-dynamic';
