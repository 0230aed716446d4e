export { GET, POST } from '@/server/routes/ownFields';
export const dynamic = 'force-dynamic';
