export { GET, POST } from '@/server/routes/maintenances';
export const dynamic = 'force-dynamic';
