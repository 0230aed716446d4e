export { POST } from '@/server/routes/editImports';
export const dynamic = 'force-dynamic';
