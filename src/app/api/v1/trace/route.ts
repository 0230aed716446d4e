export { GET } from '@/server/routes/trace';
export const dynamic = 'force-dynamic';
