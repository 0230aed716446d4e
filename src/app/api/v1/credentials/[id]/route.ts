export { DELETE } from '@/server/routes/credential';
export const dynamic = 'force-dynamic';
