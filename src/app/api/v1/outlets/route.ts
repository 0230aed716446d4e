export { GET, POST } from '@/server/routes/outlets';
export const dynamic = 'force-dynamic';
