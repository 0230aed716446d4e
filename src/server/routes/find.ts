import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

const known = ['text', 'survey', 'most'];
const longestText = 200;

/** `GET /find?text&survey&most`: anything by a scrap of its name, address, MAC or serial. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
  const text = url.searchParams.get('text') ?? '';
  if (text.length > longestText) throw invalid([{ path: 'text', message: `may have ${longestText} letters` }]);
  const most = Number(url.searchParams.get('most') ?? 12);
  if (!Number.isInteger(most) || most < 1 || most > 100)
    throw invalid([{ path: 'most', message: 'must be a whole number from 1 to 100' }]);
  const { survey } = momentsOf(
    store,
    new URLSearchParams(url.searchParams.get('survey') ? { survey: url.searchParams.get('survey') ?? '' } : {}),
  );
  return { rows: await tableAnswers(store).ask('find', survey, text, most), survey };
});
