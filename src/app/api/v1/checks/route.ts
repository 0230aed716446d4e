export { GET, POST } from '@/server/routes/checks';
export const dynamic = 'force-dynamic';
