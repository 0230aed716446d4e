export { POST } from '@/server/routes/credentialTest';
export const dynamic = 'force-dynamic';
