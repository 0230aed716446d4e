export { DELETE, GET, PUT } from '@/server/routes/plan';
export const dynamic = 'force-dynamic';
