export { POST } from '@/server/routes/setup';
export const dynamic = 'force-dynamic';
