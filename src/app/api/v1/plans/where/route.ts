export { GET } from '@/server/routes/planWhere';
export const dynamic = 'force-dynamic';
