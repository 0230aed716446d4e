import { getTableName } from 'drizzle-orm';
import { thinnable } from '../core/keeping/thinning';
import { inTransaction, type Store } from './base/database';
import { factTables } from './base/schema';

type Raw = Store['raw'];

interface SurveyRow {
  id: number;
  scope: string;
  startedAt: string;
  isCutShort: number;
}

/** Sealed surveys that may go, oldest first. @param allDays for so many days all are kept */
export function surveysToThin({ raw }: Pick<Store, 'raw'>, allDays: number, now: Date): number[] {
  const rows = raw
    .prepare<[], SurveyRow>(
      `select id, coalesce(scope_id, 'named ' || scope_name) as scope, started_at as startedAt, state <> 'sealed' as isCutShort
        from survey where sealed_at is not null order by id`,
    )
    .all();
  return thinnable(
    rows.map((row) => ({ ...row, scope: String(row.scope), isCutShort: row.isCutShort === 1 })),
    allDays,
    now,
  );
}

/**
 * Takes a survey out of those one can look back at. What held at no other one goes. Every survey that stays says what it said before, and so does every
 * difference between two of them; only since when, or when last, something was seen is told by what is left. What was read then stays.
 */
export function thinSurvey({ raw, db }: Store, id: number): void {
  inTransaction(db, () => {
    const next = raw.prepare('select min(id) from survey where sealed_at is not null and id > ?').pluck().get(id) as
      | number
      | null;
    // the newest says what there is
    if (next === null) return;
    raw.prepare("update survey set state = 'thinned', sealed_at = null, summary = null where id = ?").run(id);
    for (const table of Object.values(factTables)) thinFacts(raw, getTableName(table), id, next);
    thinVisits(raw, id, next);
    for (const table of ['check_result', 'share', 'delivery'])
      raw.prepare(`delete from ${table} where survey_id = ?`).run(id);
  });
}

/** Versions that hold at no survey that is left. */
function thinFacts(raw: Raw, table: string, id: number, next: number): void {
  raw
    .prepare(
      `delete from ${table} where until_survey > ? and until_survey <= ? and not exists (
        select 1 from survey where sealed_at is not null and survey.id >= ${table}.from_survey and survey.id < ${table}.until_survey)`,
    )
    .run(id, next);
}

/** Visits that say neither how a device fared last, nor when it answered last, at any survey that is left. */
function thinVisits(raw: Raw, id: number, next: number): void {
  const later = (outcomes: string) => `exists (select 1 from visit as later where later.device_id = visit.device_id
    and later.survey_id > @id and later.survey_id <= @next and later.state = 'done' and later.outcome ${outcomes})`;
  const answered = "in ('answered', 'partial')";
  raw
    .prepare(
      `delete from visit where survey_id = @id and (device_id is null or outcome is null
        or (${later('is not null')} and (outcome not ${answered} or ${later(answered)})))`,
    )
    .run({ id, next });
  raw
    .prepare(
      `delete from told where survey_id = @id and exists (
        select 1 from told as later where later.device_id = told.device_id and later.survey_id > @id and later.survey_id <= @next)`,
    )
    .run({ id, next });
  raw
    .prepare(
      `delete from displaced where survey_id = @id and exists (select 1 from visit as later where later.device_id = displaced.device_id
        and later.survey_id > @id and later.survey_id <= @next and later.state = 'done' and later.outcome is not null)`,
    )
    .run({ id, next });
}
