import { gunzipSync, gzipSync } from 'node:zlib';
import { sql } from 'drizzle-orm';
import { carryOver, carryOverPorts, carryOverReport } from '../core/estate/carryOver';
import type { DeviceFacts, DeviceReport, InterfaceKind, PortFacts, SightingFacts } from '../core/estate/facts';
import type { HarvestPart } from '../core/estate/harvest';
import { packSightings, unpackHeard, unpackSightings } from '../core/estate/sightingCodec';
import { IdentityIndex, kindsOf } from '../core/estate/identity';
import { toldKinds, type ToldList, type ToldRow } from '../core/estate/factKinds';
import { mergeInterfaces } from '../core/estate/mergeInterfaces';
import { compareAddresses } from '../core/values/ipAddress';
import { heardTables, type HeardTables } from '../core/switching/heardTables';
import { inTransaction, type Db } from './base/database';
import { factsAsOf, writeFacts, type Fact } from './base/facts';
import { writePortMoments } from './base/portMoments';
import { identityPin, survey, type FactKind as StoredKind } from './base/schema';
import { statements } from './base/statements';
import { writeVolatile } from './base/volatileValues';

export interface Committed {
  deviceId: number;
  kind: 'new' | 'known' | 'replaced';
}

const of = statements(({ $client }) => ({
  newDevice: $client.prepare<[number, string]>('insert into device (first_survey, credential) values (?, ?)'),
  firstSurvey: $client.prepare<[number], { firstSurvey: number }>(
    'select first_survey as firstSurvey from device where id = ?',
  ),
  keepCredential: $client.prepare<[string, number]>('update device set credential = ? where id = ?'),
  sightings: $client.prepare<[number], { body: Buffer }>('select body from sighting where device_id = ?'),
  keepSightings: $client.prepare<[number, number, Uint8Array]>(
    'insert into sighting (device_id, survey_id, body) values (?, ?, ?) on conflict (device_id) do update set survey_id = excluded.survey_id, body = excluded.body',
  ),
  interfaceReports: $client.prepare<[number], { interface: string; surveyId: number; body: Buffer }>(
    'select interface, survey_id as surveyId, body from interface_report where device_id = ?',
  ),
  keepInterfaceReport: $client.prepare<[number, string, number, Buffer]>(
    'insert into interface_report (device_id, interface, survey_id, body) values (?, ?, ?, ?) on conflict (device_id, interface) do update set survey_id = excluded.survey_id, body = excluded.body',
  ),
}));

/** Roles of machines that may have a management controller beside their system. */
const serverRoles = new Set(['server', 'hypervisor', 'host', 'virtual-machine', 'unknown']);

/** MACs by which two ways in to one server know each other. */
function serverMacs(device: DeviceFacts, ports: PortFacts[]): string[] {
  return serverRoles.has(device.role)
    ? ports.flatMap(({ mac, type }) => (mac && type === 'ethernet' ? [mac] : []))
    : [];
}

/** Identities of the devices known so far, to be kept current while a survey commits. */
export class Identities {
  readonly #index = new IdentityIndex();
  readonly #latest = new Map<number, DeviceFacts>();
  readonly #pins: Map<string, number>;

  constructor(db: Db, surveyId: number) {
    this.#pins = new Map(
      db
        .select()
        .from(identityPin)
        .all()
        .map(({ name, address, deviceId }) => [`${name}\n${address}`, deviceId]),
    );
    const devices = factsAsOf<DeviceFacts>(db, 'device', surveyId);
    const servers = devices.filter(({ content }) => serverRoles.has(content.role)).map(({ deviceId }) => deviceId);
    const ports = new Map<number, PortFacts[]>();
    for (let at = 0; at < servers.length; at += 500) {
      for (const { deviceId, content } of factsAsOf<PortFacts>(db, 'port', surveyId, servers.slice(at, at + 500)))
        ports.set(deviceId, [...(ports.get(deviceId) ?? []), content]);
    }
    for (const { deviceId, content } of devices) this.set(deviceId, content, ports.get(deviceId) ?? []);
  }

  set(id: number, facts: DeviceFacts, ports: PortFacts[]): void {
    const { name, address, addresses, serial, engineId, bridgeAddress, uuid, units } = facts;
    this.#index.set({
      id,
      name,
      address,
      addresses,
      serial,
      engineId,
      bridgeAddress,
      ...(uuid && { uuid }),
      unitSerials: units.map((unit) => unit.serial).filter(Boolean),
      macs: serverMacs(facts, ports),
      kinds: kindsOf(facts),
    });
    this.#latest.set(id, facts);
  }

  latest(id: number): DeviceFacts | undefined {
    return this.#latest.get(id);
  }

  match({ device: facts, ports }: Pick<DeviceReport, 'device' | 'ports'>) {
    // somebody decided
    const pinned =
      this.#pins.size === 0
        ? undefined
        : [facts.address, ...facts.addresses]
            .map((address) => this.#pins.get(`${facts.name}\n${address}`))
            .find((id) => id !== undefined);
    if (pinned !== undefined) {
      const known = this.#latest.get(pinned);
      return {
        id: pinned,
        replaced: known !== undefined && known.serial !== '' && facts.serial !== '' && known.serial !== facts.serial,
      };
    }
    return this.#index.match({ ...facts, macs: serverMacs(facts, ports) });
  }

  byAddress(address: string): number | null {
    return this.#index.byAddress(address);
  }
}

/** The answer of one way in to a device. */
export interface InterfaceAnswer {
  kind: InterfaceKind;
  report: DeviceReport;
  /** the report's sightings where it holds none itself */
  packedSightings?: Uint8Array | undefined;
  /** parts that were asked and whole */
  covered: Set<HarvestPart>;
  asked: Set<HarvestPart>;
}

/**
 * Writes one device's report in one transaction: identity, versions, volatile values. A part that was not covered is written only
 * where nothing is known yet. What another way in to the same device told last stays beside it. Doing it again in the same survey changes nothing.
 */
export function commitReport(
  db: Db,
  surveyId: number,
  identities: Identities,
  answer: InterfaceAnswer,
  answeredBefore: (deviceId: number, kind: InterfaceKind) => boolean,
): Committed {
  return inTransaction(db, () => {
    const { kind, covered, asked } = answer;
    const match = identities.match(answer.report);
    const deviceId =
      match?.id ?? Number(of(db).newDevice.run(surveyId, answer.report.device.credential).lastInsertRowid);
    const latest = identities.latest(deviceId);
    const askedAt = latest?.interfaces?.find((own) => own.kind === kind)?.address ?? latest?.address;
    // asked again on another of its addresses in the same survey: it is counted once
    if (match && answeredBefore(deviceId, kind) && askedAt !== answer.report.device.address) {
      if (latest && !latest.interfaces && isLowerAtFirst(db, surveyId, deviceId, latest, answer.report.device))
        renamed(
          db,
          surveyId,
          deviceId,
          identities,
          { ...latest, address: answer.report.device.address },
          answer.report,
        );
      return { deviceId, kind: 'known' };
    }
    const report = besideOthers(db, surveyId, deviceId, answer, latest);
    const kept = carryOver(latest, report.device, covered, asked);
    const facts = { ...kept, address: addressOf(db, surveyId, deviceId, latest, kept) };
    if (kind === 'snmp') of(db).keepCredential.run(facts.credential, deviceId);
    const whole = (part: HarvestPart) => covered.has(part);
    const write = (name: StoredKind, list: Fact[], part: HarvestPart) => {
      // half a table may name its rows otherwise than the whole: it says something only where nothing better is known
      if (!whole(part) && factsAsOf(db, name, surveyId, [deviceId]).length > 0) return;
      writeFacts(db, name, surveyId, deviceId, list, whole(part));
    };
    write('device', [{ key: 'device', content: facts }], 'system');
    const ports = portsBesideKnown(db, surveyId, deviceId, report.ports, covered, asked);
    for (const { kind: name, list, part, snmpPart, key } of toldKinds) {
      const rows: readonly ToldRow<ToldList>[] | undefined = list === 'ports' ? ports : report[list];
      // few ways in tell of some: where none did, there is nothing to write and nothing to take away
      if (!rows) continue;
      const facts = rows.map((row) => ({ key: key(row, rows), content: row }));
      write(name as StoredKind, facts, kind === 'snmp' ? (snmpPart ?? part) : part);
    }
    writeVolatile(db, surveyId, deviceId, report.volatile);
    if (whole('interfaces')) writePortMoments(db, surveyId, deviceId, report.portAges);
    if (whole('bridge') || whole('neighbourAddresses')) {
      // a report that is put together with others holds its own
      const body = (report === answer.report ? answer.packedSightings : undefined) ?? packSightings(report.sightings);
      of(db).keepSightings.run(deviceId, surveyId, body);
    }
    identities.set(deviceId, facts, ports);
    return { deviceId, kind: match ? (match.replaced ? 'replaced' : 'known') : 'new' };
  });
}

/** Ports of a report, each with what is known of it beside where another part of the answer broke off. */
function portsBesideKnown(
  db: Db,
  surveyId: number,
  deviceId: number,
  found: PortFacts[],
  covered: Set<HarvestPart>,
  asked: Set<HarvestPart>,
): PortFacts[] {
  const portParts: HarvestPart[] = ['bridge', 'addresses', 'power'];
  const isWhole = portParts.every((part) => covered.has(part));
  const known = isWhole ? [] : factsAsOf<PortFacts>(db, 'port', surveyId, [deviceId]);
  return carryOverPorts(new Map(known.map(({ content }) => [content.name, content])), found, covered, asked);
}

/**
 * The address under which a device is known. It answers on all of its own, in whatever order they come: as long as it has the one it was known under, that stays; in the
 * survey that finds it, it is the lowest.
 */
function addressOf(
  db: Db,
  surveyId: number,
  deviceId: number,
  latest: DeviceFacts | undefined,
  found: DeviceFacts,
): string {
  if (
    !latest ||
    latest.interfaces ||
    found.interfaces ||
    latest.address === found.address ||
    !found.addresses.includes(latest.address)
  )
    return found.address;
  return isLowerAtFirst(db, surveyId, deviceId, latest, found) ? found.address : latest.address;
}

/** In the survey that finds a device, the lowest of its addresses that answer is the one it is known under. */
function isLowerAtFirst(db: Db, surveyId: number, deviceId: number, latest: DeviceFacts, found: DeviceFacts): boolean {
  return (
    of(db).firstSurvey.get(deviceId)?.firstSurvey === surveyId && compareAddresses(found.address, latest.address) < 0
  );
}

/** Nothing but the address under which it is known. */
function renamed(
  db: Db,
  surveyId: number,
  deviceId: number,
  identities: Identities,
  facts: DeviceFacts,
  { ports }: DeviceReport,
): void {
  writeFacts(db, 'device', surveyId, deviceId, [{ key: 'device', content: facts }], true);
  identities.set(deviceId, facts, ports);
}

/** Together with what the other ways in to the device told last; alone where there is no other. */
function besideOthers(
  db: Db,
  surveyId: number,
  deviceId: number,
  answer: InterfaceAnswer,
  latest: DeviceFacts | undefined,
): DeviceReport {
  const { kind, covered, asked, packedSightings } = answer;
  const stored = of(db).interfaceReports.all(deviceId);
  if (stored.length === 0 && kind === 'snmp' && !serverRoles.has(answer.report.device.role) && !latest?.interfaces)
    return answer.report;
  const sightings = packedSightings && unpackSightings(packedSightings);
  const found = sightings ? { ...answer.report, sightings } : answer.report;
  const opened = (row: (typeof stored)[number]) => JSON.parse(gunzipSync(row.body).toString('utf8')) as DeviceReport;
  const own = stored.find((row) => row.interface === kind);
  const report = carryOverReport(own && opened(own), found, covered, asked);
  const body = gzipSync(JSON.stringify(report));
  of(db).keepInterfaceReport.run(deviceId, kind, surveyId, body);
  const others = stored
    .filter((row) => row.interface !== kind)
    .map((row) => ({
      kind: row.interface as InterfaceKind,
      report: withoutOldValues(opened(row), row.surveyId === surveyId),
    }));
  // a device that was seen by SNMP alone before ways in were kept apart
  if (others.length === 0 && stored.length === 0 && latest && kind !== 'snmp' && !latest.interfaces)
    others.push({ kind: 'snmp', report: knownReport(db, surveyId, deviceId, latest) });
  return others.length === 0 ? report : mergeInterfaces([...others, { kind, report }]);
}

/** An uptime, a sensor or a count of an earlier survey is true no more. */
const withoutOldValues = (report: DeviceReport, current: boolean): DeviceReport =>
  current
    ? report
    : {
        ...report,
        volatile: {
          uptimeSeconds: null,
          flashFreeBytes: report.volatile.flashFreeBytes,
          storage: report.volatile.storage,
        },
      };

/** A report made of what the store knows. */
function knownReport(db: Db, surveyId: number, deviceId: number, facts: DeviceFacts): DeviceReport {
  const lists = toldKinds.map(({ kind, list }) => [
    list,
    factsAsOf<ToldRow<ToldList>>(db, kind as StoredKind, surveyId, [deviceId]).map(({ content }) => content),
  ]);
  return {
    ...(Object.fromEntries(lists) as Pick<DeviceReport, ToldList>),
    device: facts,
    volatile: { uptimeSeconds: null, flashFreeBytes: null, storage: [] },
    portAges: {},
    sightings: sightingsOf(db, deviceId),
  };
}

const nothingSighted: SightingFacts = { forwarding: [], addresses: [] };
/** As it was kept before it was packed. */
const unzipped = (body: Buffer) => JSON.parse(gunzipSync(body).toString('utf8')) as SightingFacts;

/** The newest forwarding and address tables of a device. */
export function sightingsOf(db: Db, deviceId: number): SightingFacts {
  const row = of(db).sightings.get(deviceId);
  return row ? (unpackSightings(row.body) ?? unzipped(row.body)) : nothingSighted;
}

/** Adds machines that a switch lists after all, by the numbers of its interfaces; those it told of before stay as they are. */
export function addHeard(
  db: Db,
  surveyId: number,
  deviceId: number,
  heard: readonly { mac: string; vlan: number | null; ifIndex: number }[],
): void {
  if (heard.length === 0) return;
  const names = new Map(
    factsAsOf<PortFacts>(db, 'port', surveyId, [deviceId]).map(({ content }) => [content.index, content.name]),
  );
  const sightings = sightingsOf(db, deviceId);
  const known = new Set(sightings.forwarding.map(({ mac, vlan }) => `${mac} ${vlan}`));
  const rows = heard.flatMap(({ mac, vlan, ifIndex }) => {
    const port = names.get(ifIndex);
    return port === undefined || known.has(`${mac} ${vlan}`) ? [] : [{ mac, port, vlan }];
  });
  if (rows.length > 0)
    of(db).keepSightings.run(
      deviceId,
      surveyId,
      packSightings({ ...sightings, forwarding: [...sightings.forwarding, ...rows] }),
    );
}

/** The same in columns of numbers, by the number of the device. */
export function heardReader(db: Db): (deviceId: number) => HeardTables {
  return (deviceId) => {
    const row = of(db).sightings.get(deviceId);
    return row ? (unpackHeard(row.body) ?? heardTables(unzipped(row.body))) : heardTables(nothingSighted);
  };
}

/** Number of the newest survey that is sealed, or 0. */
export function latestSealed(db: Db): number {
  return (
    db
      .select({ id: sql<number>`coalesce(max(${survey.id}), 0)` })
      .from(survey)
      .where(sql`${survey.sealedAt} is not null`)
      .get()?.id ?? 0
  );
}
