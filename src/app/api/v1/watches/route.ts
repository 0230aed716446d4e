export { GET, POST } from '@/server/routes/watches';
export const dynamic = 'force-dynamic';
