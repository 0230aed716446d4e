export { GET, POST } from '@/server/routes/acts';
export const dynamic = 'force-dynamic';
