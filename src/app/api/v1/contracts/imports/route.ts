export { POST } from '@/server/routes/contractImports';
export const dynamic = 'force-dynamic';
