export { GET, POST } from '@/server/routes/scopes';
export const dynamic = 'force-dynamic';
