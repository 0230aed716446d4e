export { GET } from '@/server/routes/map';
export const dynamic = 'force-dynamic';
