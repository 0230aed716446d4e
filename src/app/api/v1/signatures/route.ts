export { GET, POST } from '@/server/routes/signatures';
export const dynamic = 'force-dynamic';
