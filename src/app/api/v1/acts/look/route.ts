export { POST } from '@/server/routes/portLook';
export const dynamic = 'force-dynamic';
