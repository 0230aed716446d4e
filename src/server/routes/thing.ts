import type { ThingName } from '../../core/things/fields';
import type { Store } from '../../store/database';
import { notFound } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf, thingNamed } from '../things/ask';

/** One row of a thing; of devices all that belongs to it. */
export async function answerRow(store: Store, name: ThingName, id: string, url: URL): Promise<unknown> {
  const { survey, against } = momentsOf(store, url.searchParams);
  const tables = tableAnswers(store);
  const found =
    name === 'devices' ? await tables.ask('dossier', id, survey) : await tables.ask('row', name, survey, against, id);
  if (!found) throw notFound(`${name.replace(/s$/, '')} “${id}” at survey ${survey}`);
  return found;
}

export const GET = route('viewer', null, ({ store, params, url }) =>
  answerRow(store, thingNamed(params.thing ?? ''), decodeURIComponent(params.id ?? ''), url),
);
