export { GET, POST } from '@/server/routes/credentials';
export const dynamic = 'force-dynamic';
