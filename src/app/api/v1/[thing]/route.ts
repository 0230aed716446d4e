export { GET } from '@/server/routes/things';
export const dynamic = 'force-dynamic';
