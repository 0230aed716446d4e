import { shownOfLink } from '../../../core/estate/shownFacts';
import { deviceStates } from '../../../store/base/deviceStates';
import type { PowerGroup } from '../../../core/mib/powerEthernet';
import type { AddressFacts, DeviceFacts, ModuleFacts } from '../../../core/estate/facts';
import { changeValue } from '../../../core/things/changeWords';
import { countValues, everyRow, type ColumnSource } from '../../../core/tables/column';
import type { ThingName } from '../../../core/things/things';
import type { LinkFacts } from '../../../core/topology/links';
import { slotKinds } from '../../../core/estate/slotKinds';
import { ledgerOf, type SerialSighting } from '../../../core/ledger/ledger';
import { linkKey } from '../../../core/topology/links';
import { addressKey, compareAddresses } from '../../../core/values/ipAddress';
import { naturalKey } from '../../../core/values/naturalKey';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { changesBetween } from '../../../store/base/changes';
import { lastAnswers } from '../../../store/base/latestOutcomes';
import { factHistory, factsAsOf } from '../../../store/base/facts';
import { device, visit } from '../../../store/base/schema';
import { eq } from 'drizzle-orm';
import { deviceNames, type Builder } from './rowBuilder';
import { advisories, exposures } from './advisoryRows';
import { applications } from './applicationRows';
import { circles } from './circleRows';
import { components } from './componentRows';
import { faults, machines, services, software } from './hostRows';
import { latestVolatile } from '../../../store/base/volatileValues';
import { Calendar } from '../calendar';
import { readiness } from './readinessRows';
import { images } from './imageRows';
import { releases } from './releaseRows';
import { networks, peers, routes, virtualRouters } from './routingRows';
import { Ways } from '../../../store/base/ways';
import { wlans } from './wirelessRows';

/** Rows of each thing as of a survey, with the fields of the contract. Ports and endpoints are too many for rows, contracts are no answers of devices: they have tables of their own. */
/** What a device may give over Ethernet, gives, and how far the fullest of its groups is used. */
function powerOf(groups: PowerGroup[] = []): {
  powerBudgetWatts: number | null;
  powerDrawnWatts: number | null;
  powerUsedPercent: number | null;
} {
  if (groups.length === 0) return { powerBudgetWatts: null, powerDrawnWatts: null, powerUsedPercent: null };
  const sum = (field: 'budgetWatts' | 'drawnWatts') => groups.reduce((total, group) => total + group[field], 0);
  return {
    powerBudgetWatts: sum('budgetWatts'),
    powerDrawnWatts: sum('drawnWatts'),
    powerUsedPercent: Math.round(
      Math.max(...groups.map(({ budgetWatts, drawnWatts }) => (100 * drawnWatts) / budgetWatts)),
    ),
  };
}

export const builders: Record<Exclude<ThingName, 'ports' | 'endpoints' | 'contracts' | 'conversations'>, Builder> = {
  services,
  circles,
  applications,
  components,
  releases,
  images,
  advisories,
  exposures,
  software,
  machines,
  faults,
  networks,
  routes,
  peers,
  virtualRouters,
  wlans,

  devices: ({ db, survey }) => {
    const calendar = new Calendar(db);
    const volatiles = latestVolatile(db, survey);
    const first = new Map(
      db
        .select()
        .from(device)
        .all()
        .map(({ id, firstSurvey }) => [id, firstSurvey]),
    );
    const answered = lastAnswers(db, survey);
    const ways = new Ways(db, survey);
    const standing = deviceStates(db, survey);
    return factsAsOf<DeviceFacts>(db, 'device', survey)
      .map(({ deviceId, content, ...more }) => {
        const { state, missing, outcome } = standing({ deviceId, content, ...more });
        const now = volatiles.get(deviceId);
        const {
          engineId: _engine,
          bridgeAddress: _bridge,
          signature: _signature,
          processors: _processors,
          defaultCommunities: _communities,
          ...shown
        } = content;
        return {
          id: String(deviceId),
          bootImage: '',
          redundancyRole: '',
          unsavedConfiguration: '',
          ...shown,
          state,
          uptimeSeconds: now?.uptimeSeconds ?? null,
          flashFreeBytes: now?.flashFreeBytes ?? null,
          ...powerOf(now?.powerGroups),
          firstSeen: calendar.momentOf(first.get(deviceId) ?? 0),
          lastAnswered: calendar.momentOf(answered.get(deviceId) ?? 0),
          missing,
          ...(content.interfaces && {
            interfaces: content.interfaces.map((own) => ({
              ...own,
              lastAnswered: calendar.momentOf(ways.lastAnswer(deviceId, own)),
            })),
          }),
          askedSeconds: outcome?.seconds ?? null,
        };
      })
      .sort((x, y) => compareNaturally(x.name, y.name));
  },

  modules: ({ db, survey, devices }) => {
    const names = deviceNames(db, survey, devices);
    const facts = factsAsOf<ModuleFacts>(db, 'module', survey, devices);
    const holds = new Map(
      [...grouped(facts, ({ deviceId }) => String(deviceId))].map(([deviceId, own]) => [
        Number(deviceId),
        slotKinds(own.map(({ content }) => content)),
      ]),
    );
    return facts
      .sort(
        (x, y) =>
          compareNaturally(names.get(x.deviceId) ?? '', names.get(y.deviceId) ?? '') ||
          x.content.order - y.content.order,
      )
      .map(({ deviceId, content }) => ({
        id: `${deviceId}:${content.path}`,
        deviceId,
        device: names.get(deviceId) ?? '',
        holds: holds.get(deviceId)?.get(content.path) ?? '',
        assetId: '',
        alias: '',
        madeOn: '',
        uuid: '',
        ...content,
      }));
  },

  links: ({ db, survey }) =>
    factsAsOf<LinkFacts>(db, 'link', survey)
      .map(({ content }) => ({
        id: linkKey(content.a, content.b),
        ...content,
        from: content.a.device,
        fromId: content.a.deviceId,
        fromPort: content.a.port,
        to: content.b.device,
        toId: content.b.deviceId,
        toPort: content.b.port,
        ...shownOfLink(content),
        evidenceWords: content.evidence.map(({ detail }) => detail).join('; '),
        members: content.members ?? [],
        segment: content.segment ?? false,
      }))
      .sort((x, y) => compareNaturally(x.from, y.from) || compareNaturally(x.fromPort, y.fromPort)),

  vlans: ({ db, survey }, other) => {
    const names = deviceNames(db, survey);
    const byVlan = grouped(factsAsOf<{ vlan: number; name: string }>(db, 'vlan', survey), ({ content }) =>
      String(content.vlan),
    );
    // sorted once, not in every VLAN again
    const ranks = new Map(
      [...names]
        .map(([id, name]) => ({ id, key: naturalKey(name) }))
        .sort((x, y) => (x.key < y.key ? -1 : x.key > y.key ? 1 : 0))
        .map(({ id }, rank) => [id, rank]),
    );
    const rankOf = (deviceId: number) => ranks.get(deviceId) ?? -1;
    const untagged = rowsByValue(other('ports'), 'vlan');
    const tagged = rowsByValue(other('ports'), 'taggedVlans');
    return [...byVlan.values()]
      .map((rows) => {
        const vlan = rows[0]?.content.vlan ?? 0;
        const devices = rows
          .map(({ deviceId }) => deviceId)
          .sort((x, y) => rankOf(x) - rankOf(y))
          .map((deviceId) => names.get(deviceId) ?? '');
        return {
          id: String(vlan),
          vlan,
          name: [...new Set(rows.map(({ content }) => content.name).filter(Boolean))].join(', '),
          devices,
          deviceCount: devices.length,
          untaggedPorts: untagged.get(vlan) ?? 0,
          taggedPorts: tagged.get(vlan) ?? 0,
        };
      })
      .sort((x, y) => x.vlan - y.vlan);
  },

  addresses: ({ db, survey, devices }) => {
    const names = deviceNames(db, survey, devices);
    return factsAsOf<AddressFacts>(db, 'address', survey, devices)
      .map(({ deviceId, content }) => ({
        key: addressKey(content.address),
        row: { id: `${deviceId}:${content.address}`, deviceId, device: names.get(deviceId) ?? '', ...content },
      }))
      .sort((x, y) => (x.key < y.key ? -1 : x.key > y.key ? 1 : 0))
      .map(({ row }) => row);
  },

  readiness,

  ledger: ({ db, survey, serials = () => factHistory<ModuleFacts>(db, 'module') }) => {
    const calendar = new Calendar(db);
    const names = new Map<number, { name: string; site: string }>();
    const history = factHistory<DeviceFacts>(db, 'device');
    for (const { deviceId, content } of history) names.set(deviceId, { name: content.name, site: content.site });
    const sightings: SerialSighting[] = [];
    const seenIn = new Set<string>();
    for (const {
      deviceId,
      content: { serial, description = '', name = '', model = '', class: partClass = '', path: place = '' },
      fromSurvey,
      untilSurvey,
    } of serials()) {
      if (!serial) continue;
      seenIn.add(`${deviceId} ${serial}`);
      const owner = names.get(deviceId);
      sightings.push({
        serial,
        what: description || name,
        model,
        class: partClass,
        device: owner?.name ?? '',
        deviceId,
        place,
        site: owner?.site ?? '',
        fromSurvey,
        untilSurvey,
      });
    }
    for (const { deviceId, content, fromSurvey, untilSurvey } of history) {
      if (!content.serial || seenIn.has(`${deviceId} ${content.serial}`)) continue;
      sightings.push({
        serial: content.serial,
        what: content.model || 'device',
        model: content.model,
        class: 'chassis',
        device: content.name,
        deviceId,
        place: content.name,
        site: content.site,
        fromSurvey,
        untilSurvey,
      });
    }
    return ledgerOf(sightings, survey, calendar.momentOf, calendar.before)
      .map((row) => ({ key: naturalKey(row.serial), row }))
      .sort((x, y) => (x.key < y.key ? -1 : x.key > y.key ? 1 : 0))
      .map(({ row }) => ({ id: row.serial, ...row }));
  },

  changes: ({ db, survey, against }) => {
    const calendar = new Calendar(db);
    const from = against ?? calendar.comparable(survey);
    if (from === 0 || from >= survey) return [];
    // what came and went again in between is told too
    const steps = calendar.between(from, survey);
    return steps
      .flatMap((step, at) => changesBetween(db, steps[at - 1] ?? from, step))
      .sort((x, y) => y.survey - x.survey)
      .map(({ thingId, ...change }) => ({
        id: [change.survey, change.thing, change.field || change.kind, thingId].join(' '),
        ...change,
        at: calendar.momentOf(change.survey),
        day: calendar.momentOf(change.survey).slice(0, 10),
        before: changeValue(change.thing, change.field, change.before),
        after: changeValue(change.thing, change.field, change.after),
      }));
  },

  visits: ({ db, survey }) => {
    const names = deviceNames(db, survey);
    return db
      .select()
      .from(visit)
      .where(eq(visit.surveyId, survey))
      .all()
      .map(({ address, outcome, deviceId, credential, reason, remedy, milliseconds, phases, missing, path }) => ({
        id: address,
        survey,
        address,
        outcome: outcome ?? 'not asked',
        device: deviceId === null ? '' : (names.get(deviceId) ?? ''),
        deviceId,
        credential: credential ?? '',
        reason: reason ?? '',
        remedy: remedy ?? '',
        seconds: (milliseconds ?? 0) / 1000,
        phases: phases ?? {},
        missing: missing ?? [],
        path: path ?? '',
      }))
      .sort((x, y) => compareAddresses(x.address, y.address));
  },
};

function grouped<T>(rows: T[], keyOf: (row: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const key = keyOf(row);
    const list = groups.get(key);
    if (list) list.push(row);
    else groups.set(key, [row]);
  }
  return groups;
}

/** How many rows have each value of a field, or have it in their list. */
function rowsByValue(table: ColumnSource, field: string): Map<unknown, number> {
  const column = table.column(field);
  const { dictionary } = column;
  const counts = new Map<unknown, number>();
  countValues(column, everyRow(table.size)).forEach((count, code) => {
    const value = dictionary.values[code];
    for (const one of Array.isArray(value) ? (value as unknown[]) : [value])
      counts.set(one, (counts.get(one) ?? 0) + count);
  });
  return counts;
}
