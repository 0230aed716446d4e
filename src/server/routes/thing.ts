import { notFound } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf, thingNamed } from '../things/ask';

export const GET = route('viewer', null, async ({ store, params, url }) => {
  const name = thingNamed(params.thing ?? '');
  const id = decodeURIComponent(params.id ?? '');
  const { survey, against } = momentsOf(store, url.searchParams);
  const tables = tableAnswers(store);
  const found = name === 'devices' ? await tables.ask('dossier', id, survey) : await tables.ask('row', name, survey, against, id);
  if (!found) throw notFound(`${name.replace(/s$/, '')} “${id}” at survey ${survey}`);
  return found;
});
