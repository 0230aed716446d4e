export { GET, PUT } from '@/server/routes/planPicture';
export const dynamic = 'force-dynamic';
