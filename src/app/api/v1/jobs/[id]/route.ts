export { GET } from '@/server/routes/job';
export const dynamic = 'force-dynamic';
