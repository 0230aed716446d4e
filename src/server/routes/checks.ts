import * as yup from 'yup';
import {
  CheckMistake,
  filterOfCheck,
  mayBeChecked,
  severities,
  type Check,
  type Judgement,
} from '../../core/checks/check';
import { FilterError } from '../../core/filter/syntax';
import { thingNames } from '../../core/things/fields';
import type { Store } from '../../store/database';
import { newCheckKey, readChecks, readJudgements, saveCheck } from '../../store/checks';
import { recordAct } from '../../store/people';
import { line } from '../access/line';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { judgedAt } from '../checks/keepJudging';
import { surveyNumber } from '../things/moment';
import { tableAnswers } from '../tables/thread/tableAnswers';

const things = thingNames.filter(mayBeChecked);
export const ruleShape = {
  thing: yup
    .string()
    .oneOf(things, ({ value }) => `“${String(value)}” cannot be checked: use ${things.join(', ')}`)
    .required(),
  where: yup.string().required('Say what must not be there, as a filter').max(4000),
  scope: yup.string().max(4000),
};
export const checkSchema = yup
  .object({
    ...ruleShape,
    name: line('The name').required('Give the check a name').max(120),
    severity: yup
      .string()
      .oneOf(severities, `must be one of ${severities.join(', ')}`)
      .required(),
    why: yup.string().max(500),
    remedy: yup.string().max(500),
    on: yup.boolean(),
  })
  .noUnknown();

/** A check as it is kept, what was left out being empty. */
export const checkOf = (
  key: string,
  { name, thing, where, scope = '', severity, why = '', remedy = '', on = true }: yup.InferType<typeof checkSchema>,
): Check => ({
  key,
  name,
  thing,
  where: where.trim(),
  scope: scope.trim(),
  severity: severity as Check['severity'],
  why: why.trim(),
  remedy: remedy.trim(),
  on,
});

/** Checks with how they stand at a survey, and how they stood before it. */
export const GET = route('viewer', null, async ({ store, url }) => {
  const survey = surveyNumber(store.db, url.searchParams.get('survey'));
  if (survey === null) throw invalid([{ path: 'survey', message: 'There is no such sealed survey' }]);
  await judgedAt(store, survey);
  const judgements = new Map<string, Judgement[]>();
  for (const judgement of readJudgements(store.db))
    judgements.set(judgement.key, [...(judgements.get(judgement.key) ?? []), judgement]);
  const rows = readChecks(store.db).map((check) => {
    const history = (judgements.get(check.key) ?? []).filter((judgement) => judgement.survey <= survey);
    const now = history.findLast((judgement) => judgement.survey === survey) ?? null;
    // since when it has failed without a break
    const sound = history.findLastIndex(({ failing }) => failing === 0);
    return {
      id: check.key,
      ...check,
      filter: filterOrWhere(check),
      failing: now?.failing ?? null,
      excused: now?.excused ?? null,
      fault: now?.fault ?? '',
      failingSince: now && now.failing > 0 ? (history[sound + 1]?.survey ?? null) : null,
      history: history.map(({ survey: at, failing, excused }) => ({ survey: at, failing, excused })),
    };
  });
  return { rows, total: rows.length, survey };
});

export const POST = route('operator', checkSchema, async ({ store, person, body }) => {
  const check = checkOf(newCheckKey(store.db), body);
  await examinedCheck(store, check);
  saveCheck(store.db, check);
  recordAct(store.db, person.name, 'made a check', check.name);
  return { id: check.key };
});

function filterOrWhere(check: Check): string {
  try {
    return filterOfCheck(check);
  } catch (error) {
    if (error instanceof FilterError || error instanceof CheckMistake) return check.where;
    throw error;
  }
}

/** Whether a check may be as it is written: it is judged once at the newest survey. */
export async function examinedCheck(
  store: Store,
  check: Check,
): Promise<{ failing: number; excused: number; filter: string }> {
  const { name } = check;
  if (
    name &&
    readChecks(store.db).some((other) => other.key !== check.key && other.name.toLowerCase() === name.toLowerCase())
  )
    throw invalid([{ path: 'name', message: `There is a check “${name}” already` }]);
  try {
    filterOfCheck({ ...check, scope: '' });
  } catch (error) {
    throw placed(error, 'where');
  }
  let filter: string;
  try {
    filter = filterOfCheck(check);
  } catch (error) {
    throw placed(error, 'scope');
  }
  const survey = surveyNumber(store.db, 'latest') ?? 0;
  const alone = await tableAnswers(store).ask('judgeCheck', { ...check, scope: '' }, survey);
  if (alone.fault) throw invalid([{ path: 'where', message: alone.fault }]);
  const { failing, excused, fault } = await tableAnswers(store).ask('judgeCheck', check, survey);
  if (fault) throw invalid([{ path: 'scope', message: fault }]);
  return { failing, excused, filter };
}

function placed(error: unknown, path: string): unknown {
  if (error instanceof FilterError)
    return new Problem(422, 'Filter mistake', `${error.message}; expected ${error.expected}`, [
      { path, message: error.message, at: error.at, expected: error.expected },
    ]);
  if (error instanceof CheckMistake) return invalid([{ path: error.path, message: error.message }]);
  return error;
}
