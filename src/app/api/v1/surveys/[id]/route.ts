export { GET } from '@/server/routes/survey';
export const dynamic = 'force-dynamic';
