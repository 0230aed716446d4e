export { GET, POST } from '@/server/routes/plans';
export const dynamic = 'force-dynamic';
