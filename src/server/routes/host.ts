import { Problem, invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

/** `GET /hosts/NAME?survey`: from the virtual machines of a host down to the ports of switches. */
export const GET = route('viewer', null, async ({ store, url, params }) => {
  for (const parameter of url.searchParams.keys())
    if (parameter !== 'survey') throw invalid([{ path: parameter, message: 'is no parameter: known is survey' }]);
  const { survey } = momentsOf(store, url.searchParams);
  const ladder = await tableAnswers(store).ask('hostLadderNamed', survey, params.name ?? '');
  if (!ladder)
    throw new Problem(
      404,
      'Not found',
      `No host called “${params.name ?? ''}” has machines or bundles at this survey.`,
    );
  return { ...ladder, survey };
});
