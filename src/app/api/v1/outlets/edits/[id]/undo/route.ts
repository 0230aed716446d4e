export { POST } from '@/server/routes/outletUndo';
export const dynamic = 'force-dynamic';
