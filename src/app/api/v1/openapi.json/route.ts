export { GET } from '@/server/routes/openApi';
export const dynamic = 'force-dynamic';
