import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

/** `GET /fabrics?survey`: leaves and spines, tenants down to their groups, of every fabric whose controller was asked. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (parameter !== 'survey') throw invalid([{ path: parameter, message: 'is no parameter: known is survey' }]);
  const { survey } = momentsOf(store, url.searchParams);
  const rows = await tableAnswers(store).ask('fabrics', survey);
  return { rows, total: rows.length, survey };
});
