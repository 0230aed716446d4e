export { GET, PUT, DELETE } from '@/server/routes/mail';
export const dynamic = 'force-dynamic';
