export { GET, PUT, PATCH, DELETE } from '@/server/routes/group';
export const dynamic = 'force-dynamic';
