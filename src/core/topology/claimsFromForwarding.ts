import type { Directions } from '../switching/directions';
import { rowsOf, type Forwarding } from '../switching/forwarding';
import type { Claim } from './claim';

/**
 * Links where no neighbour protocol speaks, from forwarding tables alone. Two ports are joined when what each hears is exactly the rest of what the other hears
 * (Y. Breitbart et al., “Topology discovery in heterogeneous IP networks”, INFOCOM 2000; from tables with holes: B. Lowekamp et al., “Topology discovery for large Ethernet
 * networks”, SIGCOMM 2001). Tables have holes, so the question is put to whole switches: on which port has each of them each other one (`Directions`, by most of the machines there).
 * Port p of A leads to B, and q of B back to A. A third switch C that A has on p and B has on q lies
 *
 * - between them, if it has A and B on different ports: then they are not neighbours;
 * - beside the way, if it has both on the same port: then all three meet in something that nobody asked.
 *
 * Where no C is either, and next to no machine is heard by both over these ports, the two are joined directly. Machines that both hear hang on something in between.
 * Cost: for each port, the square of the number of switches behind it that have no nearer one on the way, and the rows of the two ports for each pair that is left.
 *
 * @param taken by place of a switch and name of its port: that somebody told who is at its other end
 */
export function claimsFromForwarding(
  forwarding: Forwarding,
  directions: Directions,
  taken: (device: number, port: string) => boolean,
): Claim[] {
  const { devices, ports } = forwarding;
  const shared = new SharedMachines(forwarding);
  const claims: Claim[] = [];
  for (let port = 0; port < ports.length; port++) {
    const { device: near, name } = ports[port] ?? { device: 0, name: '' };
    const behind = directions.behind(port);
    if (behind.length === 0 || taken(near, name)) continue;
    for (const far of behind) {
      // each pair once
      if (far < near && directions.port(far, near) >= 0) continue;
      const back = directions.port(far, near);
      if (back < 0 || taken(far, ports[back]?.name ?? '')) continue;
      const relation = thirdSwitches(near, far, port, back, directions);
      if (relation === 'between') continue;
      const segment = relation === 'beside' || shared.between(port, back);
      const [a, b] = [near, far].map((place, end) => ({
        deviceId: devices[place]?.id ?? 0,
        device: devices[place]?.device.name ?? '',
        port: ports[end === 0 ? port : back]?.name ?? '',
      }));
      if (!a || !b) continue;
      claims.push({
        a,
        b,
        source: 'fdb',
        by: null,
        byName: a.device,
        ...(segment && { segment: true as const }),
        detail: segment
          ? `${a.device} has ${b.device} on ${a.port}, ${b.device} has ${a.device} on ${b.port}, and others are heard on both: something that nobody asked lies between`
          : `${a.device} hears on ${a.port} what is at ${b.device} and beyond, ${b.device} on ${b.port} all the rest, and no other switch lies between`,
      });
    }
  }
  return claims;
}

/** What is known of all others that both ends of a possible link have in this direction. */
function thirdSwitches(
  near: number,
  far: number,
  port: number,
  back: number,
  directions: Directions,
): 'between' | 'beside' | 'none' {
  let beside = false;
  for (const third of directions.behind(port)) {
    if (third === far || directions.port(far, third) !== back) continue;
    const [toNear, toFar] = [directions.port(third, near), directions.port(third, far)];
    if (toNear < 0 || toFar < 0 || toNear !== toFar) return 'between';
    beside = true;
  }
  return beside ? 'beside' : 'none';
}

/** Whether machines are heard over two ports that face each other: one that has moved is in tables of both for a while, several hang in between. */
class SharedMachines {
  readonly #last: Int32Array;

  constructor(readonly forwarding: Forwarding) {
    this.#last = new Int32Array(forwarding.macs.length).fill(-1);
  }

  between(port: number, back: number): boolean {
    const { byPort, macOf } = this.forwarding;
    const [one, other] = [rowsOf(byPort, port), rowsOf(byPort, back)];
    const [fewer, more] = one.length < other.length ? [one, other] : [other, one];
    const mark = port;
    for (const row of fewer) this.#last[macOf[row] ?? 0] = mark;
    let both = 0;
    for (const row of more) {
      const mac = macOf[row] ?? 0;
      if (this.#last[mac] !== mark) continue;
      this.#last[mac] = -1;
      both++;
    }
    return both > 1 && both > tolerated * fewer.length;
  }
}

/** Share of the machines of a port that may have moved lately. */
const tolerated = 0.03;
