export { POST } from '@/server/routes/ownFieldRestore';
export const dynamic = 'force-dynamic';
