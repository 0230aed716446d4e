export { GET } from '@/server/routes/places';
export const dynamic = 'force-dynamic';
