import { createHash } from 'node:crypto';
import { and, eq, gt, inArray, isNull, lte, or } from 'drizzle-orm';
import { stable } from '../core/estate/difference';
import type { Db } from './database';
import { factTables, type FactKind } from './schema';

export interface Fact {
  key: string;
  content: object;
}

/** A fact as it is read back. */
export interface FactRow<T = Record<string, unknown>> {
  deviceId: number;
  key: string;
  fromSurvey: number;
  untilSurvey: number | null;
  content: T;
}

/** Evidence explains a fact without being part of it: new words for the same fact are no change. */
const explanatory = new Set(['evidence', 'order']);

function hashOf(content: object): string {
  const telling = Object.fromEntries(Object.entries(content).filter(([name]) => !explanatory.has(name)));
  return createHash('sha1').update(stable(telling)).digest('base64url');
}

/**
 * Writes what a survey found of one kind for one device (0: for the whole estate): unchanged rows are left alone, changed ones closed and opened anew.
 * Rows that were not found are closed only if the survey covered them whole. Writing the same twice in one survey changes nothing.
 */
export function writeFacts(db: Db, kind: FactKind, surveyId: number, deviceId: number, facts: Fact[], covered: boolean): void {
  const table = factTables[kind];
  const open = db.select().from(table).where(and(eq(table.deviceId, deviceId), isNull(table.untilSurvey))).all();
  const openByKey = new Map(open.map((row) => [row.key, row]));
  const found = new Set<string>();
  for (const { key, content } of facts) {
    if (found.has(key)) continue;
    found.add(key);
    const hash = hashOf(content);
    const before = openByKey.get(key);
    if (before?.hash === hash) continue;
    if (before) end(db, kind, before.id, before.fromSurvey, surveyId);
    db.insert(table).values({ deviceId, key, fromSurvey: surveyId, untilSurvey: null, hash, content: content as Record<string, unknown> }).run();
  }
  if (!covered) return;
  for (const row of open) if (!found.has(row.key)) end(db, kind, row.id, row.fromSurvey, surveyId);
}

/** A row opened in this very survey leaves no trace when it is superseded in it. */
function end(db: Db, kind: FactKind, id: number, fromSurvey: number, surveyId: number): void {
  const table = factTables[kind];
  if (fromSurvey === surveyId) db.delete(table).where(eq(table.id, id)).run();
  else db.update(table).set({ untilSurvey: surveyId }).where(eq(table.id, id)).run();
}

/** Facts as of a survey: `from <= S and (until is null or until > S)`. */
export function factsAsOf<T>(db: Db, kind: FactKind, surveyId: number, deviceIds?: number[]): FactRow<T>[] {
  const table = factTables[kind];
  const holds = and(lte(table.fromSurvey, surveyId), or(isNull(table.untilSurvey), gt(table.untilSurvey, surveyId)));
  const rows = db.select().from(table).where(deviceIds ? and(holds, inArray(table.deviceId, deviceIds)) : holds).all();
  return rows as unknown as FactRow<T>[];
}

/** Every version of one kind, or of one device, oldest first. */
export function factHistory<T>(db: Db, kind: FactKind, deviceId?: number): FactRow<T>[] {
  const table = factTables[kind];
  const query = db.select().from(table);
  const rows = (deviceId === undefined ? query : query.where(eq(table.deviceId, deviceId))).orderBy(table.fromSurvey, table.id).all();
  return rows as unknown as FactRow<T>[];
}

/** Rows opened or closed in (A, B]: what a difference is made of. Its cost follows the changes. */
export function factsTouched<T>(db: Db, kind: FactKind, after: number, upTo: number): FactRow<T>[] {
  const table = factTables[kind];
  const rows = db
    .select()
    .from(table)
    .where(or(and(gt(table.fromSurvey, after), lte(table.fromSurvey, upTo)), and(gt(table.untilSurvey, after), lte(table.untilSurvey, upTo))))
    .orderBy(table.fromSurvey, table.id)
    .all();
  return rows as unknown as FactRow<T>[];
}
