import { and, getTableName, gt, lte, or } from 'drizzle-orm';
import { stable } from '../../core/estate/difference';
import type { Db } from './database';
import { factTables, type FactKind } from './schema';
import type { SitedDevice } from '../../core/sites/siteRules';
import { sitesOf } from '../sites';
import { statements } from './statements';

export interface Fact {
  key: string;
  content: object;
}

/** A fact as it lies in the file. */
export interface FactText {
  key: string;
  text: string;
}

/** A fact as it is read back. */
export interface FactRow<T = Record<string, unknown>> {
  deviceId: number;
  key: string;
  fromSurvey: number;
  untilSurvey: number | null;
  content: T;
}

/**
 * Evidence explains a fact without being part of it: new words for the same fact are no change. Where a device stands is told by people and their
 * rules, not by the device.
 */
const explanatory = new Set(['evidence', 'order', 'site']);

/** The same text is the same content; another text may still say the same in another order or with other evidence. */
function isSame(before: string, now: string): boolean {
  return before === now || stable(JSON.parse(before), explanatory) === stable(JSON.parse(now), explanatory);
}

interface OpenRow {
  id: number;
  key: string;
  fromSurvey: number;
  content: string;
}

/**
 * Writes what a survey found of one kind for one device: unchanged rows are left alone, changed ones closed and opened anew. Rows that were not
 * found are closed only if the survey covered them whole. Writing the same twice in one survey changes nothing.
 */
export function writeFacts(
  db: Db,
  kind: FactKind,
  surveyId: number,
  deviceId: number,
  facts: Fact[],
  covered: boolean,
): void {
  const rows = new RowWriter(db, kind, surveyId, deviceId);
  const open = rows.open();
  const openByKey = new Map(open.map((row) => [row.key, row]));
  const found = new Set<string>();
  for (const { key, content } of facts) {
    if (found.has(key)) continue;
    found.add(key);
    rows.write(openByKey.get(key), key, JSON.stringify(content));
  }
  if (covered) for (const row of open) if (!found.has(row.key)) rows.end(row);
  rows.flush();
}

const rowsAtOnce = 2000;

/**
 * The same for facts that belong to no single device and may be hundreds of thousands: they come in the order of their keys (by code unit), each
 * key once, and are held against the known ones side by side, so that never more than some of either are in memory.
 */
export function writeEstateFacts(db: Db, kind: FactKind, surveyId: number, facts: Iterable<FactText>): void {
  const rows = new RowWriter(db, kind, surveyId, 0);
  let known = rows.openBehind(null, rowsAtOnce);
  let at = 0;
  const next = (): OpenRow | undefined => {
    const last = known[at];
    if (++at < known.length || !last) return known[at];
    known = known.length < rowsAtOnce ? [] : rows.openBehind(last.key, rowsAtOnce);
    at = 0;
    return known[at];
  };
  let before = known[at];
  for (const { key, text } of facts) {
    for (; before && before.key < key; before = next()) rows.end(before);
    if (before?.key === key) {
      rows.write(before, key, text);
      before = next();
    } else rows.write(undefined, key, text);
  }
  for (; before; before = next()) rows.end(before);
  rows.flush();
}

/** Rows are opened by the handful: what a statement costs beside its rows is paid once for all of them. */
const opensAtOnce = 50;

/** Closes and opens rows of one kind for one device. */
class RowWriter {
  readonly #statements: Statements;
  #waiting: (number | string)[] = [];

  constructor(
    db: Db,
    kind: FactKind,
    readonly surveyId: number,
    readonly deviceId: number,
  ) {
    this.#statements = statementsOf(db, kind);
  }

  open(): OpenRow[] {
    return this.#statements.selectOpen.all(this.deviceId);
  }

  /** In the order of their keys, behind one of them. */
  openBehind(key: string | null, most: number): OpenRow[] {
    return this.#statements.selectOpenBehind.all(this.deviceId, key ?? '', most);
  }

  write(before: OpenRow | undefined, key: string, text: string): void {
    if (before) {
      if (isSame(before.content, text)) return;
      this.end(before);
    }
    this.#waiting.push(this.deviceId, key, this.surveyId, text);
    if (this.#waiting.length < opensAtOnce * 4) return;
    this.#statements.insertMany.run(this.#waiting);
    this.#waiting = [];
  }

  /** A row opened in this very survey leaves no trace when it is superseded in it. */
  end({ id, fromSurvey }: OpenRow): void {
    if (fromSurvey === this.surveyId) this.#statements.remove.run(id);
    else this.#statements.close.run(this.surveyId, id);
  }

  flush(): void {
    for (let at = 0; at < this.#waiting.length; at += 4) this.#statements.insert.run(this.#waiting.slice(at, at + 4));
    this.#waiting = [];
  }
}

/** The statements of one kind of fact. */
function prepareStatements(db: Db, kind: FactKind) {
  const table = getTableName(factTables[kind]);
  const { $client } = db;
  const shown = 'device_id as deviceId, key, from_survey as fromSurvey, until_survey as untilSurvey, content';
  const insert = `insert into ${table} (device_id, key, from_survey, content) values `;
  const row = '(?, ?, ?, ?)';
  const openRow = 'id, key, from_survey as fromSurvey, content';
  return {
    asOf: $client.prepare<[number, number], RawFact>(
      `select ${shown} from ${table} where from_survey <= ? and (until_survey is null or until_survey > ?)`,
    ),
    numbersAsOf: $client.prepare<[number, number], { id: number; deviceId: number }>(
      `select id, device_id as deviceId from ${table} where from_survey <= ? and (until_survey is null or until_survey > ?)`,
    ),
    // open and closed rows of a device lie in an index each
    asOfDevices: $client.prepare<{ devices: string; survey: number }, RawFact>(`
      with wanted as (select value as id from json_each(@devices))
      select ${shown} from wanted cross join ${table} indexed by ${table}_open on device_id = wanted.id and until_survey is null where from_survey <= @survey
      union all
      select ${shown} from wanted cross join ${table} indexed by ${table}_closed on device_id = wanted.id and until_survey > @survey where from_survey <= @survey`),
    historyOfDevice: $client.prepare<{ device: number }, RawFact>(`
      select ${shown}, id from ${table} indexed by ${table}_open where device_id = @device and until_survey is null
      union all
      select ${shown}, id from ${table} indexed by ${table}_closed where device_id = @device and until_survey is not null
      order by fromSurvey, id`),
    historyLike: $client.prepare<[string, string], RawFact>(
      `select ${shown} from ${table} where device_id = 0 and (key like ? or key like ?) order by from_survey, id`,
    ),
    selectOpen: $client.prepare<[number], OpenRow>(
      `select ${openRow} from ${table} where device_id = ? and until_survey is null`,
    ),
    selectOpenKey: $client.prepare<[number, string], { content: string }>(
      `select content from ${table} where device_id = ? and key = ? and until_survey is null`,
    ),
    selectOpenBehind: $client.prepare<[number, string, number], OpenRow>(
      `select ${openRow} from ${table} where device_id = ? and key > ? and until_survey is null order by key limit ?`,
    ),
    insert: $client.prepare<[(number | string)[]]>(insert + row),
    insertMany: $client.prepare<[(number | string)[]]>(
      insert + Array.from({ length: opensAtOnce }, () => row).join(', '),
    ),
    close: $client.prepare<[number, number]>(`update ${table} set until_survey = ? where id = ?`),
    remove: $client.prepare<[number]>(`delete from ${table} where id = ?`),
  };
}

type Statements = ReturnType<typeof prepareStatements>;

const byKind = statements((): Map<FactKind, Statements> => new Map());

function statementsOf(db: Db, kind: FactKind): Statements {
  const kinds = byKind(db);
  let known = kinds.get(kind);
  if (!known) kinds.set(kind, (known = prepareStatements(db, kind)));
  return known;
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
  const rows = deviceIds
    ? asOfDevices.all({ devices: JSON.stringify(deviceIds), survey: surveyId })
    : asOf.all(surveyId, surveyId);
  return withSites(
    db,
    kind,
    rows.map(({ content, ...row }) => ({ ...row, content: JSON.parse(content) as T })),
  );
}

/** What a device tells, and where it stands as people and their rules say now. */
function withSites<T>(db: Db, kind: FactKind, rows: FactRow<T>[]): FactRow<T>[] {
  if (kind !== 'device') return rows;
  const siteOf = sitesOf(db);
  for (const { deviceId, content } of rows) {
    const device = content as { site?: string } & Partial<SitedDevice>;
    const { name = '', location = '', address = '' } = device;
    device.site = siteOf(deviceId, { name, location: location ?? '', address: address ?? '' }, device.site ?? '');
  }
  return rows;
}

/** Which versions of one kind hold at a survey, by device and number, without what they say. */
export function versionNumbersAsOf(db: Db, kind: FactKind, surveyId: number): { id: number; deviceId: number }[] {
  return statementsOf(db, kind).numbersAsOf.all(surveyId, surveyId);
}

/** Every version of the links that end at a device, oldest first: their keys name both ends. */
export function linkHistory<T>(db: Db, deviceId: number): FactRow<T>[] {
  return statementsOf(db, 'link')
    .historyLike.all(`${deviceId} %`, `% | ${deviceId} %`)
    .map(({ content, ...row }) => ({ ...row, content: JSON.parse(content) as T }));
}

/** What holds of one fact now; null where there is none. */
export function openFact<T>(db: Db, kind: FactKind, deviceId: number, key: string): T | null {
  const row = statementsOf(db, kind).selectOpenKey.get(deviceId, key);
  return row ? (JSON.parse(row.content) as T) : null;
}

/** Every version of one kind, or of one device, oldest first. */
export function factHistory<T>(db: Db, kind: FactKind, deviceId?: number): FactRow<T>[] {
  if (deviceId !== undefined)
    return withSites(
      db,
      kind,
      statementsOf(db, kind)
        .historyOfDevice.all({ device: deviceId })
        .map(({ content, ...row }) => ({ ...row, content: JSON.parse(content) as T })),
    );
  const table = factTables[kind];
  const rows = db.select().from(table).orderBy(table.fromSurvey, table.id).all() as unknown as FactRow<T>[];
  return withSites(db, kind, rows);
}

/** What facts say, by the device they belong to, in their order. */
export function byDevice<T>(rows: Iterable<{ deviceId: number; content: T }>): Map<number, T[]> {
  const found = new Map<number, T[]>();
  for (const { deviceId, content } of rows) {
    const own = found.get(deviceId);
    if (own) own.push(content);
    else found.set(deviceId, [content]);
  }
  return found;
}

/** Some thousand versions of one kind, by column; what ties them together is their place. */
export interface VersionBlock<T> {
  ids: number[];
  deviceIds: number[];
  fromSurveys: number[];
  /** 0 while it holds */
  untilSurveys: number[];
  contents: T[];
}

const versionsAtOnce = 4000;

/**
 * Versions that began after one survey and no later than another, some thousand at a time. A block comes out of the file as one row, which is read several times as fast
 * as a row for each version.
 */
export function* versionsBegun<T>(db: Db, kind: FactKind, after: number, upTo: number): Generator<VersionBlock<T>> {
  const table = getTableName(factTables[kind]);
  const block = db.$client.prepare<
    [number, number, number, number],
    Record<'ids' | 'deviceIds' | 'fromSurveys' | 'untilSurveys' | 'contents', string | null> & { last: number }
  >(`
    select max(id) as last, group_concat(id) as ids, group_concat(device_id) as deviceIds, group_concat(from_survey) as fromSurveys, group_concat(coalesce(until_survey, 0)) as untilSurveys, group_concat(content) as contents
    from (select * from ${table} not indexed where id > ? and from_survey > ? and from_survey <= ? order by id limit ?)`);
  const listOf = <V>(text: string | null): V[] => JSON.parse(`[${text ?? ''}]`) as V[];
  for (let last = 0; ;) {
    const read = block.get(last, after, upTo, versionsAtOnce);
    if (!read?.ids) return;
    ({ last } = read);
    yield {
      ids: listOf(read.ids),
      deviceIds: listOf(read.deviceIds),
      fromSurveys: listOf(read.fromSurveys),
      untilSurveys: listOf(read.untilSurveys),
      contents: listOf(read.contents),
    };
  }
}

/** Versions that ended after one survey and no later than another. */
export function versionsEnded(
  db: Db,
  kind: FactKind,
  after: number,
  upTo: number,
): { id: number; untilSurvey: number }[] {
  const table = getTableName(factTables[kind]);
  return db.$client
    .prepare<[number, number], { id: number; untilSurvey: number }>(
      `select id, until_survey as untilSurvey from ${table} where until_survey > ? and until_survey <= ?`,
    )
    .all(after, upTo);
}

/** Contents of some versions by their numbers, in the order they are asked for. */
export function contentsOf<T>(db: Db, kind: FactKind, ids: number[]): (T | undefined)[] {
  const table = getTableName(factTables[kind]);
  const found = new Map(
    db.$client
      .prepare<[string], { id: number; content: string }>(
        `select ${table}.id as id, content from json_each(?) as wanted cross join ${table} on ${table}.id = wanted.value`,
      )
      .all(JSON.stringify(ids))
      .map(({ id, content }) => [id, content]),
  );
  return ids.map((id) => {
    const content = found.get(id);
    return content === undefined ? undefined : (JSON.parse(content) as T);
  });
}

/** Rows opened or closed in (A, B]: what a difference is made of. Its cost follows the changes. */
export function factsTouched<T>(db: Db, kind: FactKind, after: number, upTo: number): FactRow<T>[] {
  const table = factTables[kind];
  const rows = db
    .select()
    .from(table)
    .where(
      or(
        and(gt(table.fromSurvey, after), lte(table.fromSurvey, upTo)),
        and(gt(table.untilSurvey, after), lte(table.untilSurvey, upTo)),
      ),
    )
    .orderBy(table.fromSurvey, table.id)
    .all();
  return withSites(db, kind, rows as unknown as FactRow<T>[]);
}
