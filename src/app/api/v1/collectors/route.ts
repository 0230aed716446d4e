export { GET, POST } from '@/server/routes/collectors';
export const dynamic = 'force-dynamic';
