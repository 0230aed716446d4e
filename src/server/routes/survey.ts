import { notFound } from '../access/problem';
import { route } from '../access/route';
import { surveyProgress } from '../surveys';

export const GET = route('viewer', null, ({ store, params }) => {
  const progress = surveyProgress(store.db, Number(params.id));
  if (!progress) throw notFound(`survey ${params.id ?? ''}`);
  return progress;
});
