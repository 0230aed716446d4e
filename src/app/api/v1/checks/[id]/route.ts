export { PUT, DELETE } from '@/server/routes/check';
export const dynamic = 'force-dynamic';
