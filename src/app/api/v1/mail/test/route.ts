export { POST } from '@/server/routes/mailTest';
export const dynamic = 'force-dynamic';
