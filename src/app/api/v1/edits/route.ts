export { GET, POST } from '@/server/routes/edits';
export const dynamic = 'force-dynamic';
