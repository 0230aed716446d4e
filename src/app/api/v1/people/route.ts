export { GET, POST } from '@/server/routes/people';
export const dynamic = 'force-dynamic';
