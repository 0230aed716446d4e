import { CheckMistake, filterOfCheck, filterOfExcused, type Check, type Judgement } from '../../core/checks/check';
import { FilterError } from '../../core/filter/filterNode';
import { latestSealed } from '../../store/base/sealedSurveys';
import { editableKinds } from '../../store/edits/editables';
import { editStamp } from '../../store/edits/log';
import type { Store } from '../../store/base/database';
import { readChecks, readJudgements } from '../../store/checks';
import { tablesOf } from '../query/tables/estateTables';
import { newestSealed } from '../query/calendar';

/** A new check is judged at so many surveys back, so that one sees whether it fails since long. */
const lookedBack = 10;

/** The checks that were not judged yet, or as another rule, at one survey: the one that is named, or else the newest that lacks any. */
export function checksToJudge(store: Store, wanted?: number): { survey: number; checks: Check[] } | null {
  const checks = readChecks(store.db).filter(({ on }) => on);
  const surveys = wanted === undefined ? newestSealed(store.db, lookedBack) : [wanted];
  for (const survey of surveys) {
    const known = new Map(readJudgements(store.db, survey).map(({ key, filter }) => [key, filter]));
    const newest = survey === latestSealed(store.db);
    // what people write stands at the newest survey: how it was before stays as it was judged
    const asJudged = (check: Check, filter: string | undefined) => {
      const rule = ruleOf(check);
      return newest
        ? filter === judgedAs(store, check)
        : filter === rule || filter?.startsWith(`${rule}${writtenMark}`);
    };
    const missing = checks.filter((check) => !asJudged(check, known.get(check.key)));
    if (missing.length > 0) return { survey, checks: missing };
  }
  return null;
}

const writtenMark = ' as written at ';
/** What no table shows. */
const notInTables = new Set(['scopes', 'credentials', 'views', 'checks']);
const inTables = editableKinds.filter((kind) => !notInTables.has(kind));

/** What a check asks for, as its judgements remember it: also what people had written by then, and on which day, since cover and maintenance end. */
function judgedAs({ db }: Pick<Store, 'db'>, check: Check): string {
  return `${ruleOf(check)}${writtenMark}${editStamp(db, ...inTables)} on ${new Date().toISOString().slice(0, 10)}`;
}

function ruleOf(check: Check): string {
  try {
    return `${check.thing}: ${filterOfCheck(check)}`;
  } catch (error) {
    if (error instanceof FilterError || error instanceof CheckMistake) return `${check.thing}: ${check.where}`;
    throw error;
  }
}

/** How a check stands at a survey. */
export function judgeCheck(store: Store, check: Check, survey: number): Judgement {
  const judged = { key: check.key, survey, filter: judgedAs(store, check) };
  try {
    const filter = filterOfCheck(check);
    const found = countRows(store, check, survey, filter);
    const excusing = found > 0 ? filterOfExcused(filter, check.thing) : null;
    const excused = excusing === null ? 0 : countRows(store, check, survey, excusing);
    return { ...judged, failing: found - excused, excused, fault: '' };
  } catch (error) {
    if (error instanceof FilterError)
      return { ...judged, failing: 0, excused: 0, fault: `${error.message}; expected ${error.expected}` };
    if (error instanceof CheckMistake) return { ...judged, failing: 0, excused: 0, fault: error.message };
    throw error;
  }
}

function countRows(store: Store, { thing }: Check, survey: number, where: string): number {
  const tables = tablesOf(store);
  const table = tables.table(thing, survey, null);
  let rows = 0;
  for (const fit of tables.select(thing, survey, table, where)) rows += fit;
  return rows;
}
