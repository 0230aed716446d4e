export { GET } from '@/server/routes/fabrics';
export const dynamic = 'force-dynamic';
