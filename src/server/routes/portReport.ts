import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf, withPlace } from '../things/ask';

const known = ['survey', 'where', 'idleDays'];
const idleDaysAtFirst = 30;

/** `GET /reports/ports?where&survey&idleDays`: the ports of the switches that fit, what hangs on them, and how it is known. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
  const idleDays = Number(url.searchParams.get('idleDays') ?? idleDaysAtFirst);
  if (!Number.isInteger(idleDays) || idleDays < 1 || idleDays > 3650)
    throw invalid([{ path: 'idleDays', message: 'must be a whole number of days from 1 to 3650' }]);
  const { survey } = momentsOf(
    store,
    new URLSearchParams(url.searchParams.get('survey') ? { survey: url.searchParams.get('survey') ?? '' } : {}),
  );
  return {
    survey,
    ...(await withPlace(() =>
      tableAnswers(store).ask('portReport', survey, url.searchParams.get('where') ?? '', idleDays),
    )),
  };
});
