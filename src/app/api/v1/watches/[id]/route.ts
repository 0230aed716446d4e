export { DELETE } from '@/server/routes/watch';
export const dynamic = 'force-dynamic';
