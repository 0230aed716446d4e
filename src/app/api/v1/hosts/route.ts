export { GET } from '@/server/routes/hosts';
export const dynamic = 'force-dynamic';
