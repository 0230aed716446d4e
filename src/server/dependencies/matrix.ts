import { talkAges, talkMatrix, type TalkMatrix } from '../../core/flow/talkMatrix';
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
  const calendar = new Calendar(store.db);
  const secondsAt = (moment: string) => (moment === '' ? -Infinity : Date.parse(moment) / 1000);
  const now = secondsAt(calendar.momentOf(survey));
  const before = secondsAt(calendar.momentOf(calendar.comparable(survey)));
  const since = days === null ? -Infinity : now - days * 86_400;
  const table = tablesOf(store).talk(survey);
  const last = table.lastSeconds();
  const rows = rowsSince(fittingRows(store, 'conversations', { survey, against: null, where }).rows, last, since);
  const groups = new Dictionary();
  const groupOf = grouping(store, survey, by);
  const [from, to] = (['client', 'server'] as const).map((end) => groupsAt(table, end, rows, groups, groupOf));
  const { weight, age } = measuresOf(table, rows, before, (table.lastDay() - 1) * daySeconds);
  const none = new Uint32Array(0);
  const names = groups.values.map(String);
  const matrix = talkMatrix({ from: from ?? none, to: to ?? none, names, weight, age });
  const terms = groupTerms(store, survey, by, matrix.names, nobody);
  return { survey, by, conversations: rows.length, terms, ...matrix };
}

function rowsSince(rows: Uint32Array, last: Float64Array, since: number): Uint32Array {
  return since === -Infinity ? rows : rows.filter((row) => (last[row] ?? 0) >= since);
}

/** How much there is of each conversation, and how it was heard lately. */
function measuresOf(
  table: ConversationsTable,
  rows: Uint32Array,
  before: number,
  newSince: number,
): { weight: Float64Array; age: Uint8Array } {
  const [weights, hours, last] = [table.weights(), table.activeHours(), table.lastSeconds()];
  const first = table.firstSeconds();
  const samples = table.column('samples');
  const isSeldomSeen = samples.dictionary.passing((count) => Number(count) <= rareHours);
  const weight = new Float64Array(rows.length);
  const age = new Uint8Array(rows.length);
  const [now, rare, remembered] = (['now', 'rare', 'remembered'] as const).map((one) => talkAges.indexOf(one));
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at] ?? 0;
    weight[at] = weights[row] ?? 0;
    const active = hours[row] ?? 0;
    const isSeldom = active > 0 && active <= rareHours && isSeldomSeen[samples.codes[row] ?? 0] === 1;
    age[at] = (isSeldom && (first[row] ?? 0) < newSince ? rare : (last[row] ?? 0) < before ? remembered : now) ?? 0;
  }
  return { weight, age };
}

/** By what an end is put in a group: a field that is shown, its address, or the device it is; and in which. */
type Grouping =
  | { by: 'Name' | 'Site' | 'Network'; of: (shown: string) => string }
  | { by: 'device'; of: (deviceId: number, address: string) => string };

/** By row: of what group an end is. Each value is asked for once. */
function groupsAt(
  table: ConversationsTable,
  end: 'client' | 'server',
  rows: Uint32Array,
  groups: Dictionary,
  grouping: Grouping,
): Uint32Array {
  const made = new Uint32Array(rows.length);
  const { dictionary, codes } = table.column(`${end}${grouping.by === 'device' ? 'Address' : grouping.by}`);
  const byValue = new Int32Array(dictionary.size).fill(-1);
  const groupOfValue = (code: number): number => {
    const text = String(dictionary.values[code]);
    return (byValue[code] = groups.codeOf(grouping.by === 'device' ? grouping.of(0, text) : grouping.of(text)));
  };
  const devices = grouping.by === 'device' ? table.devicesAt(end) : null;
  const byDevice = new Int32Array(devices ? devices.reduce((most, one) => Math.max(most, one), 0) + 1 : 0).fill(-1);
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at] ?? 0;
    const device = devices?.[row] ?? 0;
    if (device > 0 && grouping.by === 'device') {
      let group = byDevice[device] ?? -1;
      if (group < 0) byDevice[device] = group = groups.codeOf(grouping.of(device, ''));
      made[at] = group;
      continue;
    }
    const code = codes[row] ?? 0;
    const group = byValue[code] ?? -1;
    made[at] = group < 0 ? groupOfValue(code) : group;
  }
  return made;
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
