export { GET } from '@/server/routes/fabricEndpoints';
export const dynamic = 'force-dynamic';
