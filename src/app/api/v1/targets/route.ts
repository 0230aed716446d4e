export { GET, PUT } from '@/server/routes/targets';
export const dynamic = 'force-dynamic';
