import { notFound } from '../access/problem';
import { route } from '../access/route';
import { readJob } from '../../store/jobs';

/** How a job stands, and what it found out. */
export const GET = route('operator', null, ({ store, params }) => {
  const job = readJob(store.db, Number(params.id));
  if (!job) throw notFound(`job ${params.id ?? ''}`);
  const { id, kind, state, error, result, surveyId } = job;
  return { id, kind, state, error, result, surveyId };
});
