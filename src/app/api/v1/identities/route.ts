export { POST } from '@/server/routes/identities';
export const dynamic = 'force-dynamic';
