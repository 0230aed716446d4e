import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

/** `GET /hosts?survey`: hosts of virtual machines and bundles, with what is wrong between them and the network. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (parameter !== 'survey') throw invalid([{ path: parameter, message: 'is no parameter: known is survey' }]);
  const { survey } = momentsOf(store, url.searchParams);
  const rows = await tableAnswers(store).ask('hostList', survey);
  return { rows, total: rows.length, survey };
});
