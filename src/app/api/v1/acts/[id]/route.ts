export { GET } from '@/server/routes/act';
export const dynamic = 'force-dynamic';
