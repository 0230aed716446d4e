export { POST } from '@/server/routes/contractUndo';
export const dynamic = 'force-dynamic';
