import { changedFields, type FieldChange } from '../../core/estate/difference';
import { compareReleases } from '../../core/firmware/release';
import { compileFilter, type Relations } from '../../core/filter/predicate';
import { parseFilter } from '../../core/filter/syntax';
import { things, type Thing, type ThingName } from '../../core/things/fields';
import { groupRows, mostGroupLevels, TooManyGroupsError, type Group } from '../../core/things/grouping';
import { compareAddresses } from '../../core/values/ipAddress';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/database';
import type { ThingRow } from './asked';
import { builders } from './rows';

export interface ThingQuery {
  survey: number;
  against: number | null;
  where: string;
  /** field names, `-name` for descending */
  sort: string[];
  /** 1 for the first */
  page: number;
  size: number;
  /** fields whose values are to be counted over all rows that fit */
  count?: string[];
  /** fields to group by, the outermost first */
  group?: string[];
}

export interface MarkedRow extends ThingRow {
  /** only with `against` */
  change?: 'added' | 'gone' | 'changed';
  before?: Record<string, unknown>;
}

export interface ThingAnswer {
  rows: MarkedRow[];
  total: number;
  survey: number;
  against: number | null;
  counts?: { added: number; gone: number; changed: number };
  shares?: Record<string, { value: string; count: number }[]>;
  groups?: Group[];
}

/** Rows of a sealed survey never change, but for the things that follow from settings. */
const kept = new Map<string, ThingRow[]>();
const keptAtMost = 40;
const followSettings = new Set<ThingName>(['readiness', 'endpoints', 'ports']);

/** All rows of a thing as of a survey. */
export function thingRows(store: Store, name: ThingName, survey: number, against: number | null): ThingRow[] {
  const key = `${store.folder} ${name} ${survey} ${name === 'changes' ? against : ''}`;
  const known = kept.get(key);
  if (known) return known;
  const rows = survey === 0 ? [] : builders[name]({ db: store.db, survey, against }, (other) => thingRows(store, other, survey, against));
  if (!followSettings.has(name)) {
    kept.set(key, rows);
    const oldest = kept.keys().next().value;
    if (kept.size > keptAtMost && oldest !== undefined) kept.delete(oldest);
  }
  return rows;
}

/** Filters, marks changes, groups, sorts and cuts out one page. @throws FilterError, SortError, GroupError */
export function queryThing(store: Store, name: ThingName, query: ThingQuery): ThingAnswer {
  const thing = things[name];
  const test = compileFilter<ThingRow>(parseFilter(query.where), withMark(thing), relationsOf(store, name, query));
  const marked = query.against === null || name === 'changes' || name === 'visits' ? thingRows(store, name, query.survey, query.against) : mark(store, thing, query.survey, query.against);
  const rows = (marked as MarkedRow[]).filter(test);
  const sorted = sortRows(rows, thing, query.sort);
  const start = (query.page - 1) * query.size;
  return {
    rows: sorted.slice(start, start + query.size),
    total: sorted.length,
    survey: query.survey,
    against: query.against,
    ...(query.group && { groups: groupsOf(rows, thing, query.group) }),
    ...(query.count && { shares: sharesOf(rows, query.count) }),
    ...(query.against !== null && { counts: { added: count(rows, 'added'), gone: count(rows, 'gone'), changed: count(rows, 'changed') } }),
  };
}

/** A field that cannot be grouped by. */
export class GroupError extends Error {}

function groupsOf(rows: MarkedRow[], thing: Thing, names: string[]): Group[] {
  if (names.length > mostGroupLevels) throw new GroupError(`Rows are grouped on at most ${mostGroupLevels} levels`);
  const by = names.map((name) => {
    const field = thing.fields.find((candidate) => candidate.name === name);
    if (!field) throw new GroupError(`There is no field “${name}” to group by`);
    if (field.list) throw new GroupError(`“${name}” may have several values in one row: it cannot be grouped by`);
    return field;
  });
  try {
    return groupRows(rows, by, thing.fields.filter(({ addsUp }) => addsUp));
  } catch (error) {
    if (error instanceof TooManyGroupsError) throw new GroupError(`${names.join(' › ')} makes ${error.message}: group by what several rows have in common`);
    throw error;
  }
}

/** How many rows have each value of a field, most first. Gone rows do not count. */
function sharesOf(rows: MarkedRow[], fields: string[]): Record<string, { value: string; count: number }[]> {
  return Object.fromEntries(
    fields.map((field) => {
      const counts = new Map<string, number>();
      for (const row of rows) {
        if (row.change === 'gone') continue;
        const value = row[field];
        const text = value === null || value === undefined ? '' : String(value);
        counts.set(text, (counts.get(text) ?? 0) + 1);
      }
      return [field, [...counts].map(([value, amount]) => ({ value, count: amount })).sort((x, y) => y.count - x.count || (x.value < y.value ? -1 : 1))];
    }),
  );
}

const count = (rows: MarkedRow[], change: MarkedRow['change']) => rows.filter((row) => row.change === change).length;

const withMark = (thing: Thing) => [...thing.fields, { name: 'change', kind: 'text' as const }];

function relationsOf(store: Store, name: ThingName, { survey, against }: ThingQuery): Relations<ThingRow> {
  const related: Partial<Record<ThingName, Record<string, ThingName>>> = { devices: { module: 'modules', port: 'ports', address: 'addresses' } };
  return Object.fromEntries(
    Object.entries(related[name] ?? {}).map(([word, other]) => {
      let byDevice: Map<string, ThingRow[]> | undefined;
      const of = (row: ThingRow) => {
        if (!byDevice) {
          byDevice = new Map();
          for (const item of thingRows(store, other, survey, against)) byDevice.set(String(item.deviceId), [...(byDevice.get(String(item.deviceId)) ?? []), item]);
        }
        return byDevice.get(row.id) ?? [];
      };
      return [word, { fields: things[other].fields, of }];
    }),
  );
}

/** Rows of both moments: what was added, what is gone, what differs and from what. */
function mark(store: Store, thing: Thing, survey: number, against: number): MarkedRow[] {
  const now = thingRows(store, thing.name, survey, null);
  const then = new Map(thingRows(store, thing.name, against, null).map((row) => [row.id, row]));
  const compared = thing.fields.filter((field) => field.compared).map((field) => field.name);
  const pick = (row: ThingRow) => Object.fromEntries(compared.map((name) => [name, row[name]]));
  const rows: MarkedRow[] = now.map((row) => {
    const before = then.get(row.id);
    then.delete(row.id);
    if (!before) return { ...row, change: 'added' };
    const changes: FieldChange[] = changedFields(pick(before), pick(row));
    return changes.length === 0 ? row : { ...row, change: 'changed', before: Object.fromEntries(changes.map(({ field, before: value }) => [field, value])) };
  });
  return [...rows, ...[...then.values()].map((row) => ({ ...row, change: 'gone' as const }))];
}

/** A sort field that the thing does not have. */
export class SortError extends Error {}

function sortRows(rows: MarkedRow[], thing: Thing, sort: string[]): MarkedRow[] {
  const orders = sort.map((word) => {
    const descending = word.startsWith('-');
    const name = descending ? word.slice(1) : word;
    const field = thing.fields.find((candidate) => candidate.name === name);
    if (!field) throw new SortError(`There is no field “${name}” to sort by`);
    return { field, sign: descending ? -1 : 1 };
  });
  if (orders.length === 0) return rows;
  return [...rows].sort((x, y) => {
    for (const { field, sign } of orders) {
      const [a, b] = [first(x[field.name]), first(y[field.name])];
      const emptyA = a === null || a === undefined || a === '';
      const emptyB = b === null || b === undefined || b === '';
      // what has no value stands last, whichever way the column is sorted
      if (emptyA || emptyB) {
        if (emptyA !== emptyB) return emptyA ? 1 : -1;
        continue;
      }
      const order =
        typeof a === 'number' && typeof b === 'number' ? a - b
        : field.kind === 'release' ? compareReleases(String(a), String(b))
        : field.kind === 'address' ? compareAddresses(String(a), String(b))
        : compareNaturally(String(a), String(b));
      if (order) return order * sign;
    }
    return 0;
  });
}

const first = (value: unknown): unknown => (Array.isArray(value) ? value[0] : value);
