import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

const known = ['from', 'to', 'survey'];
const longest = 200;

/** `GET /trace?from&to&survey`: from one thing to another, hop by hop on layer 2 and 3, and where knowledge ends. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const [parameter, value] of url.searchParams) {
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
    if (value.length > longest) throw invalid([{ path: parameter, message: `may have ${longest} letters` }]);
  }
  const asked = url.searchParams.get('survey');
  const { survey } = momentsOf(store, new URLSearchParams(asked ? { survey: asked } : {}));
  const answer = await tableAnswers(store).ask(
    'traceBetween',
    survey,
    url.searchParams.get('from') ?? '',
    url.searchParams.get('to') ?? '',
  );
  if ('mistakes' in answer) throw invalid(answer.mistakes);
  return { ...answer, survey };
});
