export { DELETE } from '@/server/routes/ownField';
export const dynamic = 'force-dynamic';
