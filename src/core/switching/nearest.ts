import { compareNaturally } from '../values/naturalOrder';
import { rowsOf, type Forwarding } from './forwarding';
import type { Uplinks } from './uplinks';

/** What is decided so far of ports and MACs. */
export interface Nearest {
  /** by port: whether it leads to other switches, so that nothing on it hangs there */
  leadsOn: Uint8Array;
  /** by port: how many machines are heard there */
  crowds: Int32Array;
  /** by MAC: the port it is nearest to, or −1 */
  homes: Int32Array;
}

/** Ports that only a neighbour nobody asked makes uplinks: what is heard behind it hangs on it, as far as anybody can tell. */
const takesMachines = (reason: string | undefined) => reason === undefined || reason === 'unaskedNeighbour';
const most = 6;

/**
 * For each MAC the port with the fewest machines of those that lead nowhere else. A port most of whose machines are nearer to ports of other switches leads there,
 * though nobody said so: what it alone hears does not hang on it. That may make other ports nearest, so it is looked at again until nothing changes.
 * @param passing by MAC: whether it belongs to what passes frames on
 */
export function findNearest(forwarding: Forwarding, uplinks: Uplinks, passing: Uint8Array): Nearest {
  const { ports, macs, macOf, byPort, byMac, portOf } = forwarding;
  const leadsOn = Uint8Array.from(ports, ({ device, name }) => (takesMachines(uplinks[device]?.get(name)) ? 0 : 1));
  const crowds = crowdsOf(forwarding, passing);
  const order = rankOf(forwarding, crowds);
  const homes = new Int32Array(macs.length).fill(-1);
  for (let round = 0; round < most; round++) {
    for (let mac = 0; mac < macs.length; mac++) {
      let best = -1;
      if (!passing[mac]) {
        for (let at = byMac.starts[mac] ?? 0, end = byMac.starts[mac + 1] ?? 0; at < end; at++) {
          const port = portOf[byMac.rows[at] ?? 0] ?? 0;
          if (!leadsOn[port] && (best < 0 || (order[port] ?? 0) < (order[best] ?? 0))) best = port;
        }
      }
      homes[mac] = best;
    }
    let found = false;
    for (let port = 0; port < ports.length; port++) {
      if (leadsOn[port]) continue;
      let [here, elsewhere] = [0, 0];
      for (let at = byPort.starts[port] ?? 0, end = byPort.starts[port + 1] ?? 0; at < end; at++) {
        const home = homes[macOf[byPort.rows[at] ?? 0] ?? 0] ?? -1;
        if (home < 0) continue;
        if (home === port) here++;
        else if (ports[home]?.device !== ports[port]?.device) elsewhere++;
      }
      if (elsewhere < 2 || elsewhere <= here) continue;
      leadsOn[port] = 1;
      found = true;
      const { device = 0, name = '' } = ports[port] ?? {};
      uplinks[device]?.set(name, 'hearsPlaced');
    }
    if (!found) break;
  }
  return { leadsOn, crowds, homes };
}

/** How many machines each port hears, those that are heard in several VLANs once. */
function crowdsOf({ ports, macs, macOf, byPort }: Forwarding, passing: Uint8Array): Int32Array {
  const last = new Int32Array(macs.length).fill(-1);
  return Int32Array.from(ports, (_, port) => {
    let crowd = 0;
    for (const row of rowsOf(byPort, port)) {
      const mac = macOf[row] ?? 0;
      if (passing[mac] || last[mac] === port) continue;
      last[mac] = port;
      crowd++;
    }
    return crowd;
  });
}

/** Ports in the order of nearness: the emptier the nearer, then by names, so that the same tables say the same in any order. */
function rankOf({ ports, devices }: Forwarding, crowds: Int32Array): Int32Array {
  const names = ranksOf(devices.map(({ device }) => device.name));
  const ofDevice = Int32Array.from(ports, ({ device }) => names[device] ?? 0);
  const ofPort = ranksOf(ports.map(({ name }) => name));
  const byName = Int32Array.from(ports.keys()).sort(
    (x, y) =>
      (crowds[x] ?? 0) - (crowds[y] ?? 0) ||
      (ofDevice[x] ?? 0) - (ofDevice[y] ?? 0) ||
      (ofPort[x] ?? 0) - (ofPort[y] ?? 0),
  );
  const ranks = new Int32Array(ports.length);
  byName.forEach((port, rank) => (ranks[port] = rank));
  return ranks;
}

/** Where each text stands among all in the order of people; those that are alike stand together. Names are few, what has them is much. */
function ranksOf(texts: readonly string[]): Int32Array {
  const ranks = new Map<string, number>();
  let [rank, before] = [0, ''];
  for (const text of [...new Set(texts)].sort(compareNaturally)) {
    if (ranks.size > 0 && compareNaturally(before, text) !== 0) rank++;
    ranks.set(text, rank);
    before = text;
  }
  return Int32Array.from(texts, (text) => ranks.get(text) ?? 0);
}
