export { DELETE, PUT } from '@/server/routes/outlet';
export const dynamic = 'force-dynamic';
