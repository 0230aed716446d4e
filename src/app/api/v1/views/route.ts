export { GET, POST } from '@/server/routes/views';
export const dynamic = 'force-dynamic';
