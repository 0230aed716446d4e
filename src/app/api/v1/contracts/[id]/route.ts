export { DELETE, GET, PUT } from '@/server/routes/contract';
export const dynamic = 'force-dynamic';
