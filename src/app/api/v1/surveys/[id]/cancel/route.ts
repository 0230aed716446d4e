export { POST } from '@/server/routes/surveyCancel';
export const dynamic = 'force-dynamic';
