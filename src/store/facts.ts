import { hash } from 'node:crypto';
import { and, eq, getTableName, gt, lte, or } from 'drizzle-orm';
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
export function writeFacts(db: Db, kind: FactKind, surveyId: number, deviceId: number, facts: Iterable<Fact>, covered: boolean): void {
  const { selectOpen, insert, close, remove } = statementsOf(db, kind);
  const open = selectOpen.all(deviceId);
  const openByKey = new Map(open.map((row) => [row.key, row]));
  // a row opened in this very survey leaves no trace when it is superseded in it
  const end = (row: { id: number; fromSurvey: number }) => (row.fromSurvey === surveyId ? remove.run(row.id) : close.run(surveyId, row.id));
  const found = new Set<string>();
  for (const { key, content } of facts) {
    if (found.has(key)) continue;
    found.add(key);
    const contentHash = hashOf(content);
    const before = openByKey.get(key);
    if (before?.hash === contentHash) continue;
    if (before) end(before);
    insert.run(deviceId, key, surveyId, contentHash, JSON.stringify(content));
  }
  if (!covered) return;
  for (const row of open) if (!found.has(row.key)) end(row);
}

/**
 * The statements of one kind of fact, prepared once for a database. Past the query builder, straight to the driver: a first survey writes
 * hundreds of thousands of rows, and mapping each value through the builder would cost more than writing it.
 */
function prepareStatements(db: Db, kind: FactKind) {
  const table = getTableName(factTables[kind]);
  const { $client } = db;
  const shown = 'device_id as deviceId, key, from_survey as fromSurvey, until_survey as untilSurvey, content';
  const holds = 'from_survey <= ? and (until_survey is null or until_survey > ?)';
  return {
    asOf: $client.prepare<[number, number], RawFact>(`select ${shown} from ${table} where ${holds}`),
    asOfDevices: $client.prepare<[string, number, number], RawFact>(`select ${shown} from ${table} where device_id in (select value from json_each(?)) and ${holds}`),
    selectOpen: $client.prepare<[number], { id: number; key: string; fromSurvey: number; hash: string }>(`select id, key, from_survey as fromSurvey, hash from ${table} where device_id = ? and until_survey is null`),
    insert: $client.prepare<[number, string, number, string, string]>(`insert into ${table} (device_id, key, from_survey, until_survey, hash, content) values (?, ?, ?, null, ?, ?)`),
    close: $client.prepare<[number, number]>(`update ${table} set until_survey = ? where id = ?`),
    remove: $client.prepare<[number]>(`delete from ${table} where id = ?`),
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

interface RawFact {
  deviceId: number;
  key: string;
  fromSurvey: number;
  untilSurvey: number | null;
  content: string;
}

/** Facts as of a survey: `from <= S and (until is null or until > S)`; of some devices or of all. Past the query builder, for the same reason as writing. */
export function factsAsOf<T>(db: Db, kind: FactKind, surveyId: number, deviceIds?: number[]): FactRow<T>[] {
  const { asOf, asOfDevices } = statementsOf(db, kind);
  const rows = deviceIds ? asOfDevices.all(JSON.stringify(deviceIds), surveyId, surveyId) : asOf.all(surveyId, surveyId);
  return rows.map(({ content, ...row }) => ({ ...row, content: JSON.parse(content) as T }));
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
