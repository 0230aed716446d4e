import type { DeviceFacts, DeviceReport, PortFacts } from '../core/estate/facts';
import { IdentityIndex, kindsOf, type ToldNow } from '../core/estate/identity';
import type { Db } from './base/database';
import { factsAsOf } from './base/facts';
import { lastAnswers } from './base/latestOutcomes';
import { identityPin } from './base/schema';

/** Roles of machines that may have a management controller beside their system. */
export const serverRoles: ReadonlySet<string> = new Set(['server', 'hypervisor', 'host', 'virtual-machine', 'unknown']);

/** MACs by which two ways in to one server know each other. */
function serverMacs(device: DeviceFacts, ports: PortFacts[]): string[] {
  return serverRoles.has(device.role)
    ? ports.flatMap(({ mac, otherMac, type }) =>
        type === 'ethernet' ? [mac, otherMac].filter((own): own is string => Boolean(own)) : [],
      )
    : [];
}

/** MACs of what a cable can be plugged into. Others (bridges, tunnels, containers) are alike on many machines. */
const socketMacs = (ports: PortFacts[]): string[] =>
  ports.flatMap(({ mac, otherMac, physical }) =>
    physical ? [mac, otherMac].filter((own): own is string => Boolean(own)) : [],
  );

/** What a report tells that is so at the time of its survey alone. */
export const toldNow = ({ volatile, neighbours }: Pick<DeviceReport, 'volatile' | 'neighbours'>): ToldNow => ({
  upSeconds: volatile.uptimeSeconds,
  neighbours: neighbours.map(({ port, chassisId, portId }) => JSON.stringify([port, chassisId, portId])),
});

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
    // ports of others are read where a device is held against them, which few are
    const portsOf = (id: number) =>
      ports.get(id) ?? factsAsOf<PortFacts>(db, 'port', surveyId, [id]).map(({ content }) => content);
    // whoever answered last at an address holds it
    const answered = lastAnswers(db, surveyId);
    const inTurn = devices.toSorted(
      (x, y) => (answered.get(x.deviceId) ?? 0) - (answered.get(y.deviceId) ?? 0) || x.deviceId - y.deviceId,
    );
    for (const { deviceId, content } of inTurn)
      this.#set(deviceId, content, ports.get(deviceId) ?? [], () => socketMacs(portsOf(deviceId)));
  }

  /** @param now what it told in this survey */
  set(id: number, facts: DeviceFacts, ports: PortFacts[], now?: ToldNow): void {
    const macs = socketMacs(ports);
    this.#set(id, facts, ports, () => macs, now);
  }

  #set(id: number, facts: DeviceFacts, ports: PortFacts[], sockets: () => string[], now?: ToldNow): void {
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
      socketMacs: sockets,
      kinds: kindsOf(facts),
      ...(now && { now }),
    });
    this.#latest.set(id, facts);
  }

  latest(id: number): DeviceFacts | undefined {
    return this.#latest.get(id);
  }

  /** @param metNow whether a device has answered in this survey already, on another of its addresses */
  match(report: Pick<DeviceReport, 'device' | 'ports' | 'volatile' | 'neighbours'>, metNow?: (id: number) => boolean) {
    const { device: facts, ports } = report;
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
    return this.#index.match(
      { ...facts, macs: serverMacs(facts, ports), socketMacs: socketMacs(ports), now: toldNow(report) },
      metNow,
    );
  }

  byAddress(address: string): number | null {
    return this.#index.byAddress(address);
  }
}
