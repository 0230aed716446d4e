import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

const known = ['survey', 'tenant', 'group', 'node', 'text'] as const;
const longest = 200;

/** `GET /fabrics/ID/endpoints?survey&tenant&group&node&text`: endpoints that fit, the first five hundred, and where a subnet or an address belongs. */
export const GET = route('viewer', null, async ({ store, url, params }) => {
  for (const [parameter, value] of url.searchParams) {
    if (!known.some((one) => one === parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
    if (value.length > longest) throw invalid([{ path: parameter, message: `may have ${longest} letters` }]);
  }
  const controller = Number(params.id);
  if (!Number.isInteger(controller) || controller < 1)
    throw invalid([{ path: 'id', message: 'must be the number of the controller’s device' }]);
  const survey = url.searchParams.get('survey');
  const { survey: at } = momentsOf(store, new URLSearchParams(survey ? { survey } : {}));
  const asked = Object.fromEntries(
    (['tenant', 'group', 'node', 'text'] as const).flatMap((name) => {
      const value = url.searchParams.get(name);
      return value ? [[name, value]] : [];
    }),
  );
  return { ...(await tableAnswers(store).ask('fabricEndpoints', at, controller, asked)), survey: at };
});
