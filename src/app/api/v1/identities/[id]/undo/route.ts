export { POST } from '@/server/routes/identityUndo';
export const dynamic = 'force-dynamic';
