export { GET } from '@/server/routes/today';
export const dynamic = 'force-dynamic';
