import { gunzipSync, gzipSync } from 'node:zlib';
import { eq, sql } from 'drizzle-orm';
import { carryOver, carryOverPorts } from '../core/estate/carryOver';
import type { DeviceFacts, DeviceReport, PortFacts, SightingFacts, SoftwareFacts } from '../core/estate/facts';
import type { HarvestPart } from '../core/estate/harvest';
import { IdentityIndex } from '../core/estate/identity';
import { serviceKey } from '../core/estate/interpretServices';
import { inTransaction, type Db } from './database';
import { factsAsOf, writeFacts, type Fact } from './facts';
import { device, sighting, survey, volatile } from './schema';

export interface Committed {
  deviceId: number;
  kind: 'new' | 'known' | 'replaced';
}

/** Identities of the devices known so far, to be kept current while a survey commits. */
export class Identities {
  readonly #index = new IdentityIndex();
  readonly #latest = new Map<number, DeviceFacts>();

  constructor(db: Db, surveyId: number) {
    for (const { deviceId, content } of factsAsOf<DeviceFacts>(db, 'device', surveyId)) this.set(deviceId, content);
  }

  set(id: number, facts: DeviceFacts): void {
    const { name, address, addresses, serial, engineId, bridgeAddress } = facts;
    this.#index.set({ id, name, address, addresses, serial, engineId, bridgeAddress });
    this.#latest.set(id, facts);
  }

  latest(id: number): DeviceFacts | undefined {
    return this.#latest.get(id);
  }

  match(facts: DeviceFacts) {
    return this.#index.match(facts);
  }

  byAddress(address: string): number | null {
    return this.#index.byAddress(address);
  }
}

/**
 * Writes one device's report in one transaction: identity, versions, volatile values. A part that was not covered is written only
 * where nothing is known yet. Doing it again in the same survey changes nothing.
 */
export function commitReport(db: Db, surveyId: number, identities: Identities, report: DeviceReport, covered: Set<HarvestPart>, asked: Set<HarvestPart>, answeredBefore: (deviceId: number) => boolean): Committed {
  return inTransaction(db, () => {
    const match = identities.match(report.device);
    const deviceId = match?.id ?? Number(db.insert(device).values({ firstSurvey: surveyId, credential: report.device.credential }).returning({ id: device.id }).get().id);
    // asked again on another of its addresses in the same survey: it is counted once, under the first
    if (match && answeredBefore(deviceId) && identities.latest(deviceId)?.address !== report.device.address) return { deviceId, kind: 'known' };
    const facts = carryOver(identities.latest(deviceId), report.device, covered, asked);
    db.update(device).set({ credential: facts.credential }).where(eq(device.id, deviceId)).run();
    const whole = (part: HarvestPart) => covered.has(part);
    const write = (kind: Parameters<typeof writeFacts>[1], list: Fact[], part: HarvestPart) => {
      // half a table may name its rows otherwise than the whole: it says something only where nothing better is known
      if (!whole(part) && factsAsOf(db, kind, surveyId, [deviceId]).length > 0) return;
      writeFacts(db, kind, surveyId, deviceId, list, whole(part));
    };
    write('device', [{ key: 'device', content: facts }], 'system');
    write('module', report.modules.map((row) => ({ key: row.path, content: row })), 'modules');
    const portParts: HarvestPart[] = ['bridge', 'addresses', 'power'];
    const knownPorts = portParts.every(whole) ? [] : factsAsOf<PortFacts>(db, 'port', surveyId, [deviceId]);
    const ports = carryOverPorts(new Map(knownPorts.map(({ content }) => [content.name, content])), report.ports, covered, asked);
    write('port', ports.map((row) => ({ key: row.name, content: row })), 'interfaces');
    write('address', report.addresses.map((row) => ({ key: row.address, content: row })), 'addresses');
    write('vlan', report.vlans.map((row) => ({ key: String(row.vlan), content: row })), 'bridge');
    write('neighbour', report.neighbours.map((row) => ({ key: `${row.port} ${row.chassisId} ${row.portId}`, content: row })), 'lldp');
    write('service', report.services.map((row) => ({ key: serviceKey(row), content: row })), 'services');
    write('software', softwareRows(report.software), 'software');
    write('machine', report.machines.map((row) => ({ key: row.uuid || row.name, content: row })), 'machines');
    write('route', report.routes.map((row) => ({ key: `${row.vrf} ${row.destination} ${row.nextHop ?? row.port}`, content: row })), 'routing');
    write('peer', report.peers.map((row) => ({ key: `${row.protocol} ${row.address}`, content: row })), 'routing');
    write('fault', report.faults.map((row) => ({ key: `${row.subsystem} ${row.part} ${row.message}`, content: row })), 'sensors');
    write('wlan', report.wlans.map((row) => ({ key: row.name, content: row })), 'wireless');
    const body = { ...report.volatile, portAges: report.portAges };
    db.insert(volatile).values({ deviceId, surveyId, body }).onConflictDoUpdate({ target: [volatile.deviceId, volatile.surveyId], set: { body } }).run();
    if (whole('bridge') || whole('neighbourAddresses')) {
      const compressed = gzipSync(JSON.stringify(report.sightings));
      db.insert(sighting).values({ deviceId, surveyId, body: compressed }).onConflictDoUpdate({ target: sighting.deviceId, set: { surveyId, body: compressed } }).run();
    }
    identities.set(deviceId, facts);
    return { deviceId, kind: match ? (match.replaced ? 'replaced' : 'known') : 'new' };
  });
}

/** The newest forwarding and address tables of every device. */
export function readSightings(db: Db): Map<number, SightingFacts> {
  return new Map(db.select().from(sighting).all().map(({ deviceId, body }) => [deviceId, JSON.parse(gunzipSync(body).toString('utf8')) as SightingFacts]));
}

/** Number of the newest survey that is sealed, or 0. */
export function latestSealed(db: Db): number {
  return db.select({ id: sql<number>`coalesce(max(${survey.id}), 0)` }).from(survey).where(sql`${survey.sealedAt} is not null`).get()?.id ?? 0;
}

/** A package is one row whose version may change; several versions beside each other (kernels) are told apart by them. */
function softwareRows(software: SoftwareFacts[]): Fact[] {
  const counts = new Map<string, number>();
  for (const { name } of software) counts.set(name, (counts.get(name) ?? 0) + 1);
  return software.map((row) => ({ key: (counts.get(row.name) ?? 0) > 1 ? `${row.name} ${row.version}` : row.name, content: row }));
}
