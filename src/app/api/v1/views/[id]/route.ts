export { DELETE } from '@/server/routes/view';
export const dynamic = 'force-dynamic';
