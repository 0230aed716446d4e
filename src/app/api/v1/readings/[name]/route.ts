export { DELETE } from '@/server/routes/reading';
export const dynamic = 'force-dynamic';
