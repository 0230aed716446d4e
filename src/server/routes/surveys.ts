import * as yup from 'yup';
import { Problem, notFound } from '../access/problem';
import { route } from '../access/route';
import { surveyList } from '../surveys';
import { BusyError, queueSurvey } from '../../store/jobs';
import { recordAct } from '../../store/people';
import { listScopes } from '../../store/settings';

const runSchema = yup.object({ scopeId: yup.number().integer().required('Say which scope') }).noUnknown();

export const GET = route('viewer', null, ({ store }) => surveyList(store.db));

export const POST = route('operator', runSchema, ({ store, person, body: { scopeId } }) => {
  const found = listScopes(store.db).find(({ id }) => id === scopeId);
  if (!found) throw notFound(`scope ${scopeId}`);
  try {
    const jobId = queueSurvey(store.db, { scopeId });
    recordAct(store.db, person.name, 'ran a survey', found.scope.name);
    return { jobId };
  } catch (error) {
    if (error instanceof BusyError) throw new Problem(409, 'Busy', error.message);
    throw error;
  }
});
