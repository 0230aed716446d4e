import { talkMatrix, type MatrixTalk, type TalkAge, type TalkMatrix } from '../../core/flow/talkMatrix';
import { networkOf } from '../../core/values/ipAddress';
import { everyRow } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { Calendar } from '../query/calendar';
import { findRows } from '../query/query';
import { tablesOf } from '../query/tables/estateTables';
import { circlesTold } from './applications';

/** By what both ends of a conversation are put together. */
export const matrixGroups = ['host', 'site', 'network', 'kind', 'application', 'circle', 'group'] as const;
export type MatrixGroup = (typeof matrixGroups)[number];

export interface ToldMatrix extends TalkMatrix {
  survey: number;
  by: MatrixGroup;
  conversations: number;
}

/** Heard in so few hours, however long ago, it is rare. */
const rareHours = 3;
const nobody = 'not known';
/** Networks of this length, where nobody tells a shorter or longer one. */
const hostBits = { ipv4: 24, ipv6: 64 };

interface End {
  address: string;
  deviceId: number | null;
  device: string;
  site: string;
}

/** Who asks whom by site, network, kind, application, circle or group, of the conversations that a filter holds. @param days only those heard within so many days; all where it is null @throws FilterError */
export function matrixOf(
  store: Store,
  survey: number,
  by: MatrixGroup,
  where: string,
  days: number | null,
): ToldMatrix {
  const calendar = new Calendar(store.db);
  const moment = calendar.momentOf(survey);
  const before = calendar.momentOf(calendar.comparable(survey));
  const since = days === null ? '' : new Date(Date.parse(moment) - days * 86_400_000).toISOString();
  const { table, found } = findRows(store, 'conversations', { survey, against: null, where, sort: [] });
  const groupOf = grouping(store, survey, by);
  const talks = table.rows(found).flatMap((row): MatrixTalk[] => {
    const last = String(row.lastSeen);
    if (last < since) return [];
    const hours = Number(row.activeHours ?? 0);
    const age: TalkAge =
      hours > 0 && hours <= rareHours ? 'rare' : before !== '' && last < before ? 'remembered' : 'now';
    return [
      {
        from: groupOf(row.client as End),
        to: groupOf(row.server as End),
        weight: Math.max(1, Number(row.events ?? 0), Number(row.samples ?? 0)),
        age,
      },
    ];
  });
  return { survey, by, conversations: talks.length, ...talkMatrix(talks) };
}

/** Of what group an end is. */
function grouping(store: Store, survey: number, by: MatrixGroup): (end: End) => string {
  switch (by) {
    case 'host':
      return ({ device, address }) => device || address;
    case 'site':
      return ({ site }) => site || nobody;
    case 'network':
      return ({ address }) => networkOf(address, address.includes(':') ? hostBits.ipv6 : hostBits.ipv4);
    case 'kind': {
      const roles = columnByDevice(store, survey, 'role');
      return ({ deviceId }) => (deviceId === null ? 'endpoint' : roles.get(deviceId) || nobody);
    }
    case 'group': {
      const groups = columnByDevice(store, survey, 'group');
      return ({ deviceId }) => (deviceId === null ? '' : (groups.get(deviceId) ?? '')) || 'in no group';
    }
    case 'circle': {
      const circles = new Map(
        circlesTold(store, survey).circles.flatMap(({ name, hosts }) => hosts.map(({ id }) => [id, name] as const)),
      );
      return ({ deviceId, address }) => circles.get(deviceId === null ? address : String(deviceId)) ?? 'in no circle';
    }
    case 'application': {
      const table = tablesOf(store).table('applications', survey, null);
      const byHost = new Map<number, string>();
      for (const row of table.rows(everyRow(table.size)))
        for (const host of row.hostIds as number[]) if (!byHost.has(host)) byHost.set(host, String(row.name));
      return ({ deviceId }) => byHost.get(deviceId ?? 0) ?? 'in no application';
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
