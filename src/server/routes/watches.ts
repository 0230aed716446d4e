import * as yup from 'yup';
import { watchedName, watchedThings, type WatchedThing } from '../../core/watch/watchedChanges';
import { recordAct } from '../../store/people';
import { addWatch, watchesOf } from '../../store/watches';
import { notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';
import { surveyNumber } from '../things/moment';

const watchSchema = yup
  .object({
    thing: yup
      .string()
      .oneOf(watchedThings, ({ value }) => `“${String(value)}” cannot be watched: use ${watchedThings.join(', ')}`)
      .required(),
    id: yup.string().required('Say which one').max(300),
  })
  .noUnknown();

/** What one watches, and what became of it since the survey before. */
export const GET = route('viewer', null, async ({ store, person, url }) => {
  const { survey, against } = momentsOf(store, url.searchParams);
  const rows = await tableAnswers(store).ask('watchedNow', survey, against, watchesOf(store.db, person.id));
  return { rows, total: rows.length, survey };
});

export const POST = route('viewer', watchSchema, async ({ store, person, body }) => {
  // a token belongs to no person
  if (person.id === 0) throw new Problem(403, 'Not allowed', 'Only people watch: sign in.');
  const thing = body.thing as WatchedThing;
  const row = await tableAnswers(store).ask('row', thing, surveyNumber(store.db, 'latest') ?? 0, null, body.id);
  if (!row) throw notFound(`${thing.replace(/s$/, '')} “${body.id}”`);
  const name = watchedName(thing, row);
  const id = addWatch(store.db, person.id, { thing, rowId: body.id, name });
  recordAct(store.db, person.name, 'watches', name);
  return { id };
});
