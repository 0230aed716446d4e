export { GET } from '@/server/routes/contractEdits';
export const dynamic = 'force-dynamic';
