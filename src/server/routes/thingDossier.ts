import { notFound } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf, thingNamed } from '../things/ask';

/** A thing with what is near it and what happened to it; of devices the dossier is the thing itself. */
export const GET = route('viewer', null, async ({ store, params, url }) => {
  const name = thingNamed(params.thing ?? '');
  const id = decodeURIComponent(params.id ?? '');
  const { survey } = momentsOf(store, url.searchParams);
  const found = await tableAnswers(store).ask('thingDossier', name, survey, id);
  if (!found) throw notFound(`${name.replace(/s$/, '')} “${id}” at survey ${survey}`);
  return found;
});
