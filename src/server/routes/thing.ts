import { notFound } from '../access/problem';
import { route } from '../access/route';
import { momentsOf, thingNamed } from '../things/ask';
import { deviceDossier } from '../things/dossier';
import { thingRow } from '../things/query';

export const GET = route('viewer', null, ({ store, params, url }) => {
  const name = thingNamed(params.thing ?? '');
  const id = decodeURIComponent(params.id ?? '');
  const { survey, against } = momentsOf(store, url.searchParams);
  const found = name === 'devices' ? deviceDossier(store, id, survey) : thingRow(store, name, survey, against, id);
  if (!found) throw notFound(`${name.replace(/s$/, '')} “${id}” at survey ${survey}`);
  return found;
});
