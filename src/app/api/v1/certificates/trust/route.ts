export { POST } from '@/server/routes/certificateTrust';
export const dynamic = 'force-dynamic';
