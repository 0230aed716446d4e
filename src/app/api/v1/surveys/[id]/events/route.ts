export { GET } from '@/server/routes/surveyEvents';
export const dynamic = 'force-dynamic';
