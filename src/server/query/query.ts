import { constantColumn, countValues, everyRow, type ColumnSource } from '../../core/tables/column';
import { firstRows, orderRows, type OrderKey } from '../../core/tables/order';
import { rowsThatFit } from '../../core/tables/select';
import type { ThingField } from '../../core/things/thing';
import type { ThingName } from '../../core/things/things';
import { groupRows, mostGroupLevels, TooManyGroupsError, type Group } from '../../core/things/grouping';
import type { Store } from '../../store/base/database';
import { tablesOf } from './tables/estateTables';
import { changeKinds, type Change, type MarkedRow, type ThingTable } from './tables/thingTable';
import type { ThingRow } from './rows/rowBuilder';

export type { MarkedRow } from './tables/thingTable';

/** Which rows are wanted, and in which order. */
export interface RowsWanted {
  survey: number;
  against: number | null;
  where: string;
  /** field names, `-name` for descending */
  sort: string[];
  /** only so many of them, in that order */
  first?: number;
}

export interface ThingQuery extends RowsWanted {
  /** 1 for the first */
  page: number;
  size: number;
  /** fields whose values are to be counted over all rows that fit */
  count?: string[];
  /** fields to group by, the outermost first */
  group?: string[];
}

export interface ThingAnswer {
  rows: MarkedRow[];
  total: number;
  survey: number;
  against: number | null;
  counts?: Record<Change, number>;
  shares?: Record<string, { value: string; count: number }[]>;
  /** of fields with very many values: how many values and rows were left out of the shares */
  sharesCut?: Record<string, { values: number; rows: number }>;
  groups?: Group[];
}

/** All rows of a thing as of a survey: for things of which there are few. */
export function thingRows(store: Store, name: ThingName, survey: number, against: number | null): ThingRow[] {
  const table = tablesOf(store).table(name, survey, name === 'changes' ? against : null);
  return table.rows(everyRow(table.size));
}

/** The rows of a thing that belong to a device. */
export function rowsOfDevice(store: Store, name: ThingName, survey: number, deviceId: number): ThingRow[] {
  return tablesOf(store).ofDevice(name, survey, deviceId);
}

/** One row of a thing by its id. */
export function thingRow(
  store: Store,
  name: ThingName,
  survey: number,
  against: number | null,
  id: string,
): ThingRow | undefined {
  const deviceId = Number(/^(\d+):/.exec(id)?.[1]);
  // of ports and the like only those of the device are looked at
  if (name === 'ports' || name === 'modules')
    return rowsOfDevice(store, name, survey, deviceId).find((row) => row.id === id);
  const table = tablesOf(store).table(name, survey, name === 'changes' ? against : null);
  const at = table.rowOf(id);
  return at < 0 ? undefined : table.rows([at])[0];
}

/** The rows that a filter holds, as they lie in the table. @throws FilterError */
export function fittingRows(
  store: Store,
  name: ThingName,
  { survey, against, where }: Pick<RowsWanted, 'survey' | 'against' | 'where'>,
): { table: ThingTable; rows: Uint32Array } {
  const table = tablesOf(store).table(name, survey, against);
  if (where.trim() === '') return { table, rows: everyRow(table.size) };
  const marked = against !== null && name !== 'changes' && name !== 'visits';
  const fits = tablesOf(store).select(name, survey, table, where, {
    table: marked
      ? table
      : {
          size: table.size,
          numbersOf: table.numbersOf,
          column: (field) => (field === 'change' ? constantColumn(null, table.size) : table.column(field)),
        },
    fields: [{ name: 'change', kind: 'text' as const }],
  });
  return { table, rows: rowsThatFit(fits) };
}

/** The rows that a filter holds, in the order that is wanted. @throws FilterError, SortError */
export function findRows(store: Store, name: ThingName, wanted: RowsWanted): { table: ThingTable; found: Uint32Array } {
  const { table, rows } = fittingRows(store, name, wanted);
  const { sort, first } = wanted;
  const found = orderRows(rows, orderOf(table, tablesOf(store).fields(name), sort));
  return { table, found: first === undefined ? found : found.subarray(0, first) };
}

const rowsAtOnce = 2000;
const mostShares = 500;

/** All rows that a filter holds, some at a time: an export of hundreds of thousands never has more in memory. */
export function* eachRow({ table, found }: { table: ThingTable; found: Uint32Array }): Generator<MarkedRow> {
  for (let at = 0; at < found.length; at += rowsAtOnce) yield* table.rows(found.subarray(at, at + rowsAtOnce));
}

/** Filters, marks changes, groups, sorts and cuts out one page. @throws FilterError, SortError, GroupError */
export function queryThing(store: Store, name: ThingName, query: ThingQuery): ThingAnswer {
  const { page, size, group, first } = query;
  const start = (page - 1) * size;
  const { table, rows } = fittingRows(store, name, query);
  const keys = orderOf(table, tablesOf(store).fields(name), query.sort);
  // groups tell their rows in their order; else only those up to the page are put in order
  const found = (
    group ? orderRows(rows, keys) : firstRows(rows, keys, Math.min(start + size, first ?? rows.length))
  ).subarray(0, first);
  const all = group || first !== undefined ? found : rows;
  return {
    rows: table.rows(found.subarray(start, start + size)),
    total: Math.min(rows.length, first ?? rows.length),
    survey: query.survey,
    against: query.against,
    ...(group && { groups: groupsOf(all, table, tablesOf(store).fields(name), group) }),
    ...(query.count && cutShares(sharesOf(all, table, query.count, query.against !== null))),
    ...(query.against !== null && { counts: countsOf(all, table, name) }),
  };
}

/** A field that cannot be grouped by. */
export class GroupError extends Error {
  override name = 'GroupError';
}

function groupsOf(found: Uint32Array, table: ColumnSource, fields: ThingField[], names: string[]): Group[] {
  if (names.length > mostGroupLevels) throw new GroupError(`Rows are grouped on at most ${mostGroupLevels} levels`);
  const by = names.map((name) => {
    const field = fields.find((candidate) => candidate.name === name);
    if (!field) throw new GroupError(`There is no field “${name}” to group by`);
    if (field.list) throw new GroupError(`“${name}” may have several values in one row: it cannot be grouped by`);
    return field;
  });
  try {
    return groupRows(
      found,
      table,
      by,
      fields.filter(({ addsUp }) => addsUp),
    );
  } catch (error) {
    if (error instanceof TooManyGroupsError)
      throw new GroupError(`${names.join(' › ')} makes ${error.message}: group by what several rows have in common`);
    throw error;
  }
}

/** How many rows have each value of a field, most first. Gone rows do not count. */
function sharesOf(
  found: Uint32Array,
  table: ColumnSource,
  fields: string[],
  marked: boolean,
): Record<string, { value: string; count: number }[]> {
  const marks = marked ? table.column('change') : null;
  const gone = marks?.dictionary.find('gone');
  const counted = marks ? found.filter((row) => marks.codes[row] !== gone) : found;
  return Object.fromEntries(
    fields.map((field) => {
      const column = table.column(field);
      const { dictionary } = column;
      const counts = countValues(column, counted);
      const shares = new Map<string, number>();
      counts.forEach((count, code) => {
        if (count === 0) return;
        const value = dictionary.values[code];
        for (const one of Array.isArray(value) && value.length > 0 ? (value as unknown[]) : [value]) {
          const text = Array.isArray(one) ? '' : String(one ?? '');
          shares.set(text, (shares.get(text) ?? 0) + count);
        }
      });
      return [
        field,
        [...shares]
          .map(([value, count]) => ({ value, count }))
          .sort((x, y) => y.count - x.count || (x.value < y.value ? -1 : 1)),
      ];
    }),
  );
}

/** A field in which nearly every row has a value of its own is nobody's overview: the most frequent values are told, and how many others there are. */
function cutShares(all: NonNullable<ThingAnswer['shares']>): Pick<ThingAnswer, 'shares' | 'sharesCut'> {
  const cut = Object.entries(all).filter(([, shares]) => shares.length > mostShares);
  return {
    shares: Object.fromEntries(Object.entries(all).map(([field, shares]) => [field, shares.slice(0, mostShares)])),
    ...(cut.length > 0 && {
      sharesCut: Object.fromEntries(
        cut.map(([field, shares]) => [
          field,
          {
            values: shares.length - mostShares,
            rows: shares.slice(mostShares).reduce((sum, { count }) => sum + count, 0),
          },
        ]),
      ),
    }),
  };
}

function countsOf(found: Uint32Array, table: ColumnSource, name: ThingName): Record<Change, number> {
  const counts: Record<Change, number> = { added: 0, gone: 0, changed: 0, replaced: 0, silent: 0 };
  if (name === 'changes' || name === 'visits') return counts;
  const column = table.column('change');
  const byCode = countValues(column, found);
  for (const kind of changeKinds) counts[kind] = byCode[column.dictionary.find(kind) ?? -1] ?? 0;
  return counts;
}

/** A sort field that the thing does not have. */
export class SortError extends Error {
  override name = 'SortError';
}

function orderOf(table: ThingTable, fields: ThingField[], sort: readonly string[]): OrderKey[] {
  return (sort.length > 0 ? sort : (table.order ?? [])).map((word) => {
    const descending = word.startsWith('-');
    const name = descending ? word.slice(1) : word;
    const field = fields.find((candidate) => candidate.name === name);
    if (!field) throw new SortError(`There is no field “${name}” to sort by`);
    const numbers = table.numbersOf?.(name);
    return {
      get column() {
        return table.column(name);
      },
      kind: field.kind,
      descending,
      numbers,
    };
  });
}
