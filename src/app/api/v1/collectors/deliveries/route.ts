export { POST } from '@/server/routes/collectorDelivery';
export const dynamic = 'force-dynamic';
