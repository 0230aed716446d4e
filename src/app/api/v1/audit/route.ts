export { GET } from '@/server/routes/audit';
export const dynamic = 'force-dynamic';
