export { GET, POST } from '@/server/routes/groups';
export const dynamic = 'force-dynamic';
