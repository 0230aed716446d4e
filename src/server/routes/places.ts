import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

const known = ['text', 'survey'];
const longestText = 200;

/** `GET /places?text&survey`: on which port something is, and was. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
  const text = url.searchParams.get('text') ?? '';
  if (text.length > longestText) throw invalid([{ path: 'text', message: `may have ${longestText} letters` }]);
  const { survey } = momentsOf(
    store,
    new URLSearchParams(url.searchParams.get('survey') ? { survey: url.searchParams.get('survey') ?? '' } : {}),
  );
  return { ...(await tableAnswers(store).ask('findPort', survey, text)), survey };
});
