export { GET } from '@/server/routes/thingDossier';
export const dynamic = 'force-dynamic';
