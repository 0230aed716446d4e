export { GET, POST, DELETE } from '@/server/routes/session';
export const dynamic = 'force-dynamic';
