export { POST } from '@/server/routes/harvests';
export const dynamic = 'force-dynamic';
