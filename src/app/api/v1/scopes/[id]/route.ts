export { DELETE } from '@/server/routes/scope';
export const dynamic = 'force-dynamic';
