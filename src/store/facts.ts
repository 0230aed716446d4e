import { hash } from 'node:crypto';
import { and, eq, gt, inArray, isNull, lte, or, sql } from 'drizzle-orm';
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
  return hash('sha1', stable(content, explanatory), 'base64url');
}

/**
 * Writes what a survey found of one kind for one device (0: for the whole estate): unchanged rows are left alone, changed ones closed and opened anew.
 * Rows that were not found are closed only if the survey covered them whole. Writing the same twice in one survey changes nothing.
 */
export function writeFacts(db: Db, kind: FactKind, surveyId: number, deviceId: number, facts: Fact[], covered: boolean): void {
  const { selectOpen, insert, close, remove } = statementsOf(db, kind);
  const open = selectOpen.all({ deviceId });
  const openByKey = new Map(open.map((row) => [row.key, row]));
  // a row opened in this very survey leaves no trace when it is superseded in it
  const end = (row: { id: number; fromSurvey: number }) => (row.fromSurvey === surveyId ? remove.run({ id: row.id }) : close.run({ id: row.id, surveyId }));
  const found = new Set<string>();
  for (const { key, content } of facts) {
    if (found.has(key)) continue;
    found.add(key);
    const contentHash = hashOf(content);
    const before = openByKey.get(key);
    if (before?.hash === contentHash) continue;
    if (before) end(before);
    insert.run({ deviceId, key, surveyId, hash: contentHash, content });
  }
  if (!covered) return;
  for (const row of open) if (!found.has(row.key)) end(row);
}

/** The statements of one kind of fact, prepared once for a database: building them anew for every row would cost more than running them. */
function prepareStatements(db: Db, kind: FactKind) {
  const table = factTables[kind];
  const at = (name: string) => sql.placeholder(name);
  return {
    selectOpen: db.select({ id: table.id, key: table.key, fromSurvey: table.fromSurvey, hash: table.hash }).from(table).where(and(eq(table.deviceId, at('deviceId')), isNull(table.untilSurvey))).prepare(),
    insert: db.insert(table).values({ deviceId: at('deviceId'), key: at('key'), fromSurvey: at('surveyId'), untilSurvey: null, hash: at('hash'), content: at('content') }).prepare(),
    close: db.update(table).set({ untilSurvey: sql`${at('surveyId')}` }).where(eq(table.id, at('id'))).prepare(),
    remove: db.delete(table).where(eq(table.id, at('id'))).prepare(),
  };
}

const prepared = new WeakMap<Db, Map<FactKind, ReturnType<typeof prepareStatements>>>();

function statementsOf(db: Db, kind: FactKind): ReturnType<typeof prepareStatements> {
  let kinds = prepared.get(db);
  if (!kinds) prepared.set(db, (kinds = new Map()));
  let statements = kinds.get(kind);
  if (!statements) kinds.set(kind, (statements = prepareStatements(db, kind)));
  return statements;
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
