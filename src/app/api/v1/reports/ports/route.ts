export { GET } from '@/server/routes/portReport';
export const dynamic = 'force-dynamic';
