export { POST } from '@/server/routes/collectorWork';
export const dynamic = 'force-dynamic';
