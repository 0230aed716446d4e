import { notFound } from '@/server/access/problem';
import { route } from '@/server/access/route';
import { surveyProgress } from '@/server/surveys';

export const GET = route('viewer', null, ({ store, params }) => {
  const progress = surveyProgress(store.db, Number(params.id));
  if (!progress) throw notFound(`survey ${params.id ?? ''}`);
  return progress;
});
