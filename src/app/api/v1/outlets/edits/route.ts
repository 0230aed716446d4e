export { GET } from '@/server/routes/outletEdits';
export const dynamic = 'force-dynamic';
