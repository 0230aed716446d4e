export { POST } from '@/server/routes/checkTrial';
export const dynamic = 'force-dynamic';
