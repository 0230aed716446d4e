import { talkAges, talkMatrix, type GroupedEnd, type TalkMatrix } from '../../core/flow/talkMatrix';
import { Dictionary } from '../../core/tables/dictionary';
import { everyRow } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { Calendar } from '../query/calendar';
import { fittingRows } from '../query/query';
import type { ConversationsTable } from '../query/tables/conversationsTable';
import { tablesOf } from '../query/tables/estateTables';
import { circlesTold } from './applications';
import { groupTerms, type EndTerms } from './groupTerms';
import type { MatrixGroup } from './matrixGroups';

export interface ToldMatrix extends TalkMatrix {
  survey: number;
  by: MatrixGroup;
  conversations: number;
  /** by name: how it is asked for in a filter of conversations, where it can be */
  terms: Record<string, EndTerms>;
}

/** Heard in so few hours of all since it was heard first, which was not just now, and seen in so few surveys, it is rare. */
const rareHours = 3;
const daySeconds = 86_400;
const nobody = 'not known';

/** Who asks whom by site, network, kind, application, circle or group, of the conversations that a filter holds. @param days only those heard within so many days; all where it is null @throws FilterError */
export function matrixOf(
  store: Store,
  survey: number,
  by: MatrixGroup,
  where: string,
  days: number | null,
): ToldMatrix {
  const { now, before } = momentsOf(store, survey);
  const since = days === null ? -Infinity : now - days * 86_400;
  const table = tablesOf(store).talk(survey);
  const last = table.lastSeconds();
  const rows = rowsSince(fittingRows(store, 'conversations', { survey, against: null, where }).rows, last, since);
  const groups = groupsFor(by, table);
  const groupOf = grouping(store, survey, by);
  const [from, to] = [
    groupsAt(table, 'client', rows, groups, groupOf),
    groupsAt(table, 'server', rows, groups, groupOf),
  ];
  const { weight, age } = measuresOf(table, rows, before);
  const matrix = talkMatrix({ from, to, names: groups.values as string[], weight, age });
  const terms = groupTerms(store, survey, by, matrix.names, nobody);
  return { survey, by, conversations: rows.length, terms, ...matrix };
}

/** Works out ahead how each conversation was heard lately: every matrix of all of them asks for it. */
export function readyAges(store: Store, survey: number): void {
  agesOf(tablesOf(store).talk(survey), momentsOf(store, survey).before);
}

/** When a survey was, and the one before it, in seconds since the epoch. */
function momentsOf({ db }: Store, survey: number): { now: number; before: number } {
  const calendar = new Calendar(db);
  const secondsAt = (moment: string) => (moment === '' ? -Infinity : Date.parse(moment) / 1000);
  return {
    now: secondsAt(calendar.momentOf(survey)),
    before: secondsAt(calendar.momentOf(calendar.comparable(survey))),
  };
}

function rowsSince(rows: Uint32Array, last: Float64Array, since: number): Uint32Array {
  return since === -Infinity ? rows : rows.filter((row) => (last[row] ?? 0) >= since);
}

/** How much there is of each conversation, and how it was heard lately. */
function measuresOf(
  table: ConversationsTable,
  rows: Uint32Array,
  before: number,
): { weight: Float64Array; age: Uint8Array } {
  const [weights, ages] = [table.weights(), agesOf(table, before)];
  // of all rows nothing has to be picked out
  if (rows.length === table.size) return { weight: weights, age: ages };
  return { weight: rowsOf(weights, rows), age: rowsOf(ages, rows) };
}

function rowsOf<Kept extends Float64Array | Uint32Array | Uint8Array>(all: Kept, rows: Uint32Array): Kept {
  const found = all.slice(0, rows.length) as Kept;
  for (let at = 0; at < rows.length; at++) found[at] = all[rows[at] ?? 0] ?? 0;
  return found;
}

const [now, rare, remembered] = (['now', 'rare', 'remembered'] as const).map((one) => talkAges.indexOf(one)) as [
  number,
  number,
  number,
];
const knownAges = new WeakMap<ConversationsTable, { key: string; ages: Uint8Array }>();

/** By row: how it was heard lately; once for a table. */
function agesOf(table: ConversationsTable, before: number): Uint8Array {
  const newSince = (table.lastDay() - 1) * daySeconds;
  const key = `${before} ${newSince}`;
  const known = knownAges.get(table);
  if (known?.key === key) return known.ages;
  const samples = table.column('samples');
  const isSeldomSeen = samples.dictionary.passing((count) => Number(count) <= rareHours);
  const ages = new Uint8Array(table.size);
  const [hours, first, last] = [table.activeHours(), table.firstSeconds(), table.lastSeconds()];
  tellAges(ages, hours, first, last, samples.codes, isSeldomSeen, before, newSince);
  knownAges.set(table, { key, ages });
  return ages;
}

function tellAges(
  ages: Uint8Array,
  hours: Float64Array,
  first: Float64Array,
  last: Float64Array,
  samples: ArrayLike<number>,
  isSeldomSeen: Uint8Array,
  before: number,
  newSince: number,
): void {
  for (let row = 0; row < ages.length; row++) {
    const active = hours[row] ?? 0;
    const isSeldom = active > 0 && active <= rareHours && isSeldomSeen[samples[row] ?? 0] === 1;
    if (isSeldom && (first[row] ?? 0) < newSince) ages[row] = rare;
    else ages[row] = (last[row] ?? 0) < before ? remembered : now;
  }
}

/** By what an end is put in a group: a field that is shown, its address, or the device it is; and in which. */
type Grouping =
  | { by: 'Name' | 'Site' | 'Network'; of: (shown: string) => string }
  | { by: 'device'; of: (deviceId: number, address: string) => string };

/** Of what group an end of each row is. Each value is asked for once. */
function groupsAt(
  table: ConversationsTable,
  end: 'client' | 'server',
  rows: Uint32Array,
  groups: Dictionary,
  grouping: Grouping,
): GroupedEnd {
  const isWhole = rows.length === table.size;
  if (grouping.by !== 'device') {
    const { dictionary, codes } = table.column(`${end}${grouping.by}`);
    return { codes: isWhole ? codes : rowsOf(codes, rows), groups: groupsOfValues(dictionary, groups, grouping.of) };
  }
  const { dictionary, codes } = table.column(`${end}Address`);
  const made = new Uint32Array(rows.length);
  const devices = table.devicesAt(end);
  const byValue = new Int32Array(dictionary.size).fill(-1);
  const byDevice = new Int32Array(devices.reduce((most, one) => Math.max(most, one), 0) + 1).fill(-1);
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at] ?? 0;
    const device = devices[row] ?? 0;
    const known = device > 0 ? byDevice : byValue;
    const key = device > 0 ? device : (codes[row] ?? 0);
    let group = known[key] ?? -1;
    if (group < 0)
      known[key] = group = groups.codeOf(grouping.of(device, device > 0 ? '' : String(dictionary.values[key])));
    made[at] = group;
  }
  return { codes: made, groups: Uint32Array.from(groups.values, (_, at) => at) };
}

const valuesKnown = new WeakMap<Dictionary, WeakMap<Dictionary, Uint32Array>>();

/** By value: its group. Of hosts there may be hundreds of thousands: what is known is not asked for again. */
function groupsOfValues(values: Dictionary, groups: Dictionary, of: (shown: string) => string): Uint32Array {
  const known = valuesKnown.get(groups) ?? new WeakMap<Dictionary, Uint32Array>();
  valuesKnown.set(groups, known);
  const before = known.get(values);
  if (before?.length === values.size) return before;
  const found = new Uint32Array(values.size);
  found.set(before ?? []);
  for (let code = before?.length ?? 0; code < found.length; code++)
    found[code] = groups.codeOf(of(String(values.values[code])));
  known.set(values, found);
  return found;
}

const hostsKnown = new WeakMap<object, Dictionary>();

/** The groups that there are: hosts stay from one question to the next, others follow from what people write. */
function groupsFor(by: MatrixGroup, { around }: ConversationsTable): Dictionary {
  if (by !== 'host') return new Dictionary();
  const known = hostsKnown.get(around.ends) ?? new Dictionary();
  hostsKnown.set(around.ends, known);
  return known;
}

/** Of what group an end is. */
function grouping(store: Store, survey: number, by: MatrixGroup): Grouping {
  switch (by) {
    case 'host':
      return { by: 'Name', of: (name) => name };
    case 'site':
      return { by: 'Site', of: (site) => site || nobody };
    case 'network':
      return { by: 'Network', of: (network) => network };
    case 'kind': {
      const roles = columnByDevice(store, survey, 'role');
      return { by: 'device', of: (device) => (device === 0 ? 'endpoint' : roles.get(device) || nobody) };
    }
    case 'group': {
      const groups = columnByDevice(store, survey, 'group');
      return { by: 'device', of: (device) => groups.get(device) || 'in no group' };
    }
    case 'circle': {
      const circles = new Map(
        circlesTold(store, survey).circles.flatMap(({ name, hosts }) => hosts.map(({ id }) => [id, name] as const)),
      );
      return {
        by: 'device',
        of: (device, address) => circles.get(device === 0 ? address : String(device)) ?? 'in no circle',
      };
    }
    case 'application': {
      const applications = tablesOf(store).table('applications', survey, null);
      const byHost = new Map<number, string>();
      for (const row of applications.rows(everyRow(applications.size)))
        for (const host of row.hostIds as number[]) if (!byHost.has(host)) byHost.set(host, String(row.name));
      return { by: 'device', of: (device) => byHost.get(device) ?? 'in no application' };
    }
  }
}

function columnByDevice(store: Store, survey: number, field: 'role' | 'group'): Map<number, string> {
  const table = tablesOf(store).table('devices', survey, null);
  return new Map(
    table.rows(everyRow(table.size)).map((row) => {
      const value = row[field];
      return [Number(row.id), Array.isArray(value) ? String(value[0] ?? '') : String(value ?? '')];
    }),
  );
}
