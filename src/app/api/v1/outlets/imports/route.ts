export { POST } from '@/server/routes/outletImports';
export const dynamic = 'force-dynamic';
