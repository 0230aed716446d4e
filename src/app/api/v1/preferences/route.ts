export { GET, PUT } from '@/server/routes/preferences';
export const dynamic = 'force-dynamic';
