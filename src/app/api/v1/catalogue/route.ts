export { GET, POST } from '@/server/routes/catalogue';
export const dynamic = 'force-dynamic';
