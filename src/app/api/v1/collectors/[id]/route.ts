export { DELETE } from '@/server/routes/collector';
export const dynamic = 'force-dynamic';
