export { GET } from '@/server/routes/health';
export const dynamic = 'force-dynamic';
