export { POST } from '@/server/routes/maintenanceEnd';
export const dynamic = 'force-dynamic';
