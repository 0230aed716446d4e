export { POST } from '@/server/routes/editUndo';
export const dynamic = 'force-dynamic';
