export { GET } from '@/server/routes/mapPorts';
export const dynamic = 'force-dynamic';
