export { GET, POST } from '@/server/routes/surveys';
export const dynamic = 'force-dynamic';
