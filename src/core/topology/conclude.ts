import { place, type Placement } from '../switching/placement';
import type { SightedDevice } from '../switching/heardTables';
import type { Earlier } from '../switching/settled';
import { macNumber } from '../values/mac';
import { compareNaturally } from '../values/naturalOrder';
import { claimsFromAttachments } from './attachedDevices';
import type { Claim } from './claim';
import { claimsFromControllers } from './claimsFromControllers';
import { claimsFromForwarding } from './claimsFromForwarding';
import { claimsFromNeighbours } from './claimsFromNeighbours';
import { claimsFromSpanningTree } from './claimsFromSpanningTree';
import { claimsFromSubnets } from './claimsFromSubnets';
import { DeviceIndex } from './deviceIndex';
import type { LinkFacts } from './links';
import { mergeClaims } from './mergeClaims';
import { tellOpenLoops } from './openLoops';
import { stackLinks } from './stackLinks';

export interface Conclusion extends Pick<Placement, 'portKinds' | 'attachments'> {
  links: LinkFacts[];
}

/**
 * Everything that is concluded from all devices together. Same input in any order, same output. Links are first what ends say themselves; forwarding tables are asked only where no
 * end of a port is told, so that a hole in a table contradicts nobody.
 * @param earlier where a MAC was found the last time
 */
export function conclude(devices: SightedDevice[], earlier?: Earlier): Conclusion {
  const sorted = [...devices].sort((x, y) => x.id - y.id);
  const index = new DeviceIndex(sorted);
  const told = [...claimsFromNeighbours(index), ...claimsFromSpanningTree(index)];
  const { portKinds, attachments, forwarding, directions, machines } = place(sorted, index, earlier);
  const ends = new ToldEnds(told, index);
  const concluded = claimsFromForwarding(forwarding, directions, (device, port) =>
    ends.has(forwarding.devices[device]?.id ?? 0, port),
  );
  const attached = claimsFromAttachments(
    attachments.ofDevices(),
    index,
    (deviceId, port) => ends.has(deviceId, port),
    (mac) => {
      const host = machines.get(macNumber(mac) ?? -1);
      return host < 0 ? null : host;
    },
  );
  const links = mergeClaims(
    [
      ...told,
      ...claimsFromControllers(sorted, index, told),
      ...concluded,
      ...attached,
      ...onTop(claimsFromSubnets(sorted), [...told, ...concluded], index),
    ],
    index,
  ).sort(
    (x, y) =>
      compareNaturally(x.a.device, y.a.device) ||
      compareNaturally(x.a.port, y.a.port) ||
      compareNaturally(x.b.device, y.b.device) ||
      compareNaturally(x.b.port, y.b.port) ||
      x.a.deviceId - y.a.deviceId ||
      x.b.deviceId - y.b.deviceId,
  );
  tellOpenLoops(links, index);
  return { portKinds, attachments, links: [...links, ...stackLinks(sorted)] };
}

/** A subnet of two whose ports have a cable between them says the same once more; it is a link of its own only where no cable is known. */
function onTop(subnets: Claim[], cables: readonly Claim[], index: DeviceIndex): Claim[] {
  const physical = (deviceId: number, port: string) => index.port(deviceId, port)?.lag ?? port;
  const joined = new Set(
    cables.flatMap(({ a, b }) => [
      `${a.deviceId} ${physical(a.deviceId, a.port)} ${b.deviceId} ${physical(b.deviceId, b.port)}`,
      `${b.deviceId} ${physical(b.deviceId, b.port)} ${a.deviceId} ${physical(a.deviceId, a.port)}`,
    ]),
  );
  return subnets.map((claim) => {
    const { a, b } = claim;
    const { kind: _kind, ...evidence } = claim;
    return joined.has(`${a.deviceId} ${physical(a.deviceId, a.port)} ${b.deviceId} ${physical(b.deviceId, b.port)}`)
      ? evidence
      : claim;
  });
}

/** Ports of which an end told who is at the other; aggregates of which that is told of a member. */
class ToldEnds {
  readonly #ends = new Set<string>();

  constructor(claims: readonly Claim[], index: DeviceIndex) {
    for (const { a, b } of claims) {
      for (const { deviceId, port } of [a, b]) {
        this.#ends.add(`${deviceId} ${port}`);
        const lag = index.port(deviceId, port)?.lag;
        if (lag) this.#ends.add(`${deviceId} ${lag}`);
      }
    }
  }

  has(deviceId: number, port: string): boolean {
    return this.#ends.has(`${deviceId} ${port}`);
  }
}
