export { GET, POST } from '@/server/routes/readings';
export const dynamic = 'force-dynamic';
