import * as yup from 'yup';
import { CheckMistake, filterOfCheck, type Check, type Judgement } from '../../core/checks/check';
import { checkSchema, ruleSchema } from '../../core/checks/checkSchema';
import { FilterError } from '../../core/filter/filterNode';
import { newCheckKey, readChecks, readJudgements } from '../../store/checks';
import type { Store } from '../../store/base/database';
import { checkEdits } from '../../store/edits/checks';
import { editVersion } from '../../store/edits/log';
import { filterProblem } from '../access/filterProblem';
import { invalid, notFound } from '../access/problem';
import { atSurvey } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { newestSurvey, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import { judgedAt } from './keepJudging';

/** Rules the estate must satisfy, and how each stands. */
export const checkRoutes = [
  route({
    method: 'GET',
    path: '/checks',
    role: 'viewer',
    summary: 'Checks: rules that must hold nothing, how each stands at a survey, and how it stood before',
    query: yup.object(atSurvey),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const version = editVersion(store.db);
      await judgedAt(store, survey);
      const rows = standings(store, survey);
      return { rows, total: rows.length, survey, version };
    },
  }),
  route({
    method: 'POST',
    path: '/checks',
    role: 'operator',
    summary: 'Make a check',
    body: checkSchema,
    versioned: true,
    run: async (call) => {
      const { store } = call;
      const check = checkOf(newCheckKey(store.db), call.body);
      await examinedCheck(store, check);
      const changes = [{ key: null, before: null, after: check }];
      const { key, ...edit } = written(call, checkEdits, { act: 'made a check', words: check.name, changes });
      return { id: key, ...edit };
    },
  }),
  route({
    method: 'POST',
    path: '/checks/trial',
    role: 'operator',
    summary: 'How a rule would stand at the newest survey; nothing is saved',
    body: ruleSchema,
    run: ({ store, body }) => examinedCheck(store, checkOf('', { name: '', severity: 'minor', ...body })),
  }),
  route({
    method: 'PUT',
    path: '/checks/{id}',
    role: 'operator',
    summary: 'Change a check, of the library too',
    body: checkSchema,
    versioned: true,
    run: async (call) => {
      const { store, params, body } = call;
      const key = params.id;
      if (!readChecks(store.db).some((check) => check.key === key)) throw notFound(`check “${key}”`);
      const after = checkOf(key, body);
      await examinedCheck(store, after);
      const changes = [{ key, before: checkEdits.read(store.db, key, ''), after }];
      const act = after.on ? 'changed a check' : 'switched a check off';
      const { edit, version } = written(call, checkEdits, { act, words: after.name, changes });
      return { id: key, edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/checks/{id}',
    role: 'operator',
    summary: 'Delete a check of one’s own, or put one of the library back as it was',
    versioned: true,
    run: (call) => {
      const { store, params } = call;
      const check = readChecks(store.db).find(({ key }) => key === params.id);
      if (!check) throw notFound(`check “${params.id}”`);
      const { key, origin, name } = check;
      if (origin === 'library') return { id: key, version: editVersion(store.db) };
      const act = origin === 'own' ? 'deleted a check' : 'put a check back as it was';
      const changes = [{ key, before: checkEdits.read(store.db, key, ''), after: null }];
      const { edit, version } = written(call, checkEdits, { act, words: name, changes });
      return { id: key, edit, version };
    },
  }),
];

/** Checks with how they stand at a survey, and how they stood before it. */
function standings(store: Store, survey: number) {
  const judgements = new Map<string, Judgement[]>();
  for (const judgement of readJudgements(store.db)) {
    judgements.set(judgement.key, [...(judgements.get(judgement.key) ?? []), judgement]);
  }
  return readChecks(store.db).map((check) => {
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
}

/** A check as it is kept, what was left out being empty. */
function checkOf(key: string, given: yup.InferType<typeof checkSchema>): Check {
  const { name, thing, where, scope = '', severity, why = '', remedy = '', on = true } = given;
  return {
    key,
    name,
    thing,
    where: where.trim(),
    scope: scope.trim(),
    severity: severity as Check['severity'],
    why: why.trim(),
    remedy: remedy.trim(),
    on,
  };
}

function filterOrWhere(check: Check): string {
  try {
    return filterOfCheck(check);
  } catch (error) {
    if (error instanceof FilterError || error instanceof CheckMistake) return check.where;
    throw error;
  }
}

/** Whether a check may be as it is written: it is judged once at the newest survey. @throws Problem */
async function examinedCheck(
  store: Store,
  check: Check,
): Promise<{ failing: number; excused: number; filter: string }> {
  const { key, name } = check;
  const same = (other: Check) => other.key !== key && other.name.toLowerCase() === name.toLowerCase();
  if (name && readChecks(store.db).some(same)) {
    throw invalid([{ path: 'name', message: `There is a check “${name}” already` }]);
  }
  const alone = { ...check, scope: '' };
  filterAt('where', alone);
  const filter = filterAt('scope', check);
  const survey = newestSurvey(store);
  const judgedAlone = await tableAnswers(store).ask('judgeCheck', alone, survey);
  if (judgedAlone.fault) throw invalid([{ path: 'where', message: judgedAlone.fault }]);
  const { failing, excused, fault } = await tableAnswers(store).ask('judgeCheck', check, survey);
  if (fault) throw invalid([{ path: 'scope', message: fault }]);
  return { failing, excused, filter };
}

/** The filter of a check. @throws Problem, a mistake told at the field it is in */
function filterAt(path: 'where' | 'scope', check: Check): string {
  try {
    return filterOfCheck(check);
  } catch (error) {
    if (error instanceof CheckMistake) throw invalid([{ path: error.path, message: error.message }]);
    throw filterProblem(error, path) ?? error;
  }
}
