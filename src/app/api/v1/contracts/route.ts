export { GET, POST } from '@/server/routes/contracts';
export const dynamic = 'force-dynamic';
