export { GET } from '@/server/routes/certificates';
export const dynamic = 'force-dynamic';
