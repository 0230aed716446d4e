export { GET } from '@/server/routes/host';
export const dynamic = 'force-dynamic';
