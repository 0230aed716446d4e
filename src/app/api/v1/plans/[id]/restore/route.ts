export { POST } from '@/server/routes/planRestore';
export const dynamic = 'force-dynamic';
