export { POST } from '@/server/routes/signatureTrial';
export const dynamic = 'force-dynamic';
