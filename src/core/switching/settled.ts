import { carriesVlan } from '../estate/carriesVlan';
import type { PortFacts } from '../estate/facts';
import { macNumber } from '../values/mac';
import type { Directions } from './directions';
import type { Forwarding } from './forwarding';
import type { Nearest } from './nearest';
import { MacTable } from './macTable';
import { portKey, type Uplinks } from './uplinks';

/** How it is known where a machine hangs. */
export const bases = ['heard', 'reported', 'hosted', 'remaining', 'segment', 'remembered'] as const;
export type Basis = (typeof bases)[number];

/** Where machines hang, by the place of their MAC: a port on which something is heard (`homes`, −1 for none), or one that hears nothing (`silent`). */
export interface Settled {
  homes: Int32Array;
  /** ports that hear nothing, where something must hang nevertheless */
  silent: Map<number, { device: number; port: string; vlan: number | null }>;
  basis: Map<number, Exclude<Basis, 'heard'>>;
  /** ports that say so too and are not believed: old rows of where a machine was */
  older: Map<number, number[]>;
  /** machines of which only the switch is known, with the ports there that they may be on */
  among: Map<number, { device: number; ports: string[] }>;
}

/** Of virtual machines and their hosts, by the place of a MAC: whose it is, by numbers of devices, or −1. */
export interface Hosts {
  /** the host on which a machine with this MAC runs */
  runsOn: Int32Array;
  /** the host whose own MAC it is */
  owns: Int32Array;
}

/** Where a MAC was found the last time, as one knows it. */
export type Earlier = (mac: number) => { deviceId: number; port: string } | null;

/**
 * Settles what nearness alone cannot: machines on two ports at once, and those whose own switch does not list them.
 *
 * All switches that hear a machine hear it in its direction, so that the switch towards which most of them look is where it hangs. Where that one lists it on two ports
 * or another lists it too, the one that is looked at is right and the other row is old. Where it does not list it at all, it hangs on a port that nothing else needs: the one its
 * own neighbour report names; the one where its host hangs, if it is a virtual machine; the one where it was found before, if that is still free; the only one that is up, in its VLAN, and hears nothing there; or the only one that
 * hears several in that VLAN (an access point, a hypervisor). Where more than one is possible, only the switch is named.
 */
export function settle(
  forwarding: Forwarding,
  nearest: Nearest,
  directions: Directions,
  passing: Uint8Array,
  { uplinks, unasked, hosts }: { uplinks: Uplinks; unasked: ReadonlySet<string>; hosts: Hosts },
  earlier: Earlier,
): Settled {
  const { macs } = forwarding;
  const settled: Settled = {
    homes: nearest.homes.slice(),
    silent: new Map(),
    basis: new Map(),
    older: new Map(),
    among: new Map(),
  };
  const lost: number[] = [];
  for (let mac = 0; mac < macs.length; mac++) {
    if (passing[mac]) continue;
    const places = listedOn(forwarding, nearest, mac);
    const choice = choose(places, mac, directions, forwarding);
    settled.homes[mac] = choice.best;
    if (choice.older.length > 0) settled.older.set(mac, choice.older);
    if (choice.best < 0) lost.push(mac);
  }
  const reports = new Map<number, { device: number; port: string }>();
  forwarding.devices.forEach((known, device) => {
    for (const { port, chassisId, portId } of known.neighbours) {
      for (const text of [chassisId, portId]) {
        const place = forwarding.placeOf.get(macNumber(text) ?? -1);
        if (place >= 0) reports.set(place, { device, port });
      }
    }
  });
  const behindUnasked = Uint8Array.from(forwarding.ports, ({ device, name }) =>
    unasked.has(portKey(device, name)) ? 1 : 0,
  );
  const free = new FreePorts(forwarding, nearest, uplinks, settled.homes);
  const open: { mac: number; vlan: number; switches: number[] }[] = [];
  const put = (mac: number, device: number, port: string, vlan: number, basis: Exclude<Basis, 'heard'>) => {
    const heard = free.heardPort(device, port);
    settled.basis.set(mac, basis);
    if (heard >= 0) settled.homes[mac] = heard;
    else settled.silent.set(mac, { device, port, vlan: vlan < 0 ? null : vlan });
  };
  const hostPorts = portsOfHosts(hosts, settled.homes);
  for (const mac of lost) {
    const report = reports.get(mac);
    const vlan = vlanOf(forwarding, mac);
    if (report && !free.leadsOn(report.device, report.port)) {
      put(mac, report.device, report.port, vlan, 'reported');
      continue;
    }
    const hosted = (hostPorts.get(hosts.runsOn[mac] ?? -1) ?? []).filter(
      (port) => directions.say(mac, forwarding.ports[port]?.device ?? 0).no === 0,
    );
    if (hosted.length === 1) {
      settled.homes[mac] = hosted[0] ?? -1;
      settled.basis.set(mac, 'hosted');
      continue;
    }
    const { switches, segment, between } = whereTo(forwarding, nearest, directions, behindUnasked, mac);
    const before = earlier(macs[mac] ?? 0);
    const there =
      before === null ? undefined : switches.find((device) => forwarding.devices[device]?.id === before.deviceId);
    if (before && there !== undefined && free.mayHang(there, before.port, vlan))
      put(mac, there, before.port, vlan, 'remembered');
    else if (between) continue;
    else if (switches.length > 0) open.push({ mac, vlan, switches });
    else if (segment >= 0) {
      settled.homes[mac] = segment;
      settled.basis.set(mac, 'segment');
    }
  }
  eliminate(open, free, put);
  for (const { mac, vlan, switches } of open) {
    const [device] = switches;
    if (device === undefined || switches.length > 1 || settled.basis.has(mac)) continue;
    const possible = vlan < 0 ? [] : [...free.silent(device, vlan), ...free.shared(device, vlan)];
    settled.among.set(mac, { device, ports: possible });
  }
  return settled;
}

/** By host, the ports on which one of its own MACs is heard. */
function portsOfHosts({ owns }: Hosts, homes: Int32Array): Map<number, number[]> {
  const found = new Map<number, number[]>();
  owns.forEach((host, mac) => {
    const home = homes[mac] ?? -1;
    if (host < 0 || home < 0) return;
    const ports = found.get(host);
    if (!ports) found.set(host, [home]);
    else if (!ports.includes(home)) ports.push(home);
  });
  return found;
}

/** Ports that list a machine and lead nowhere else, the nearest first. */
function listedOn({ ports, byMac, portOf }: Forwarding, { leadsOn, homes }: Nearest, mac: number): number[] {
  const found: number[] = [];
  for (let at = byMac.starts[mac] ?? 0, end = byMac.starts[mac + 1] ?? 0; at < end; at++) {
    const port = portOf[byMac.rows[at] ?? 0] ?? 0;
    if (!leadsOn[port] && !found.includes(port)) found.push(port);
  }
  if (found.length < 2) return found;
  const nearest = homes[mac];
  return found.sort((x, y) =>
    x === nearest ? -1 : y === nearest ? 1 : (ports[x]?.device ?? 0) - (ports[y]?.device ?? 0) || x - y,
  );
}

/** Of the ports that list a machine the one all others look at; −1 where they look past all of them. */
function choose(
  places: number[],
  mac: number,
  directions: Directions,
  { ports }: Forwarding,
): { best: number; older: number[] } {
  const [first] = places;
  if (first === undefined) return nowhere;
  if (places.length === 1) {
    const { yes, no } = directions.say(mac, ports[first]?.device ?? 0);
    return no >= 2 && no > yes ? { best: -1, older: places } : { best: first, older: none };
  }
  const judged = places.map((port) => ({ port, ...directions.say(mac, ports[port]?.device ?? 0) }));
  const best = judged.reduce((x, y) => (y.yes - y.no > x.yes - x.no ? y : x));
  // everybody looks elsewhere: this row is what is left of where it was
  if (best.no >= 2 && best.no > best.yes) return { best: -1, older: places };
  return { best: best.port, older: places.filter((port) => port !== best.port) };
}

const none: number[] = [];
const nowhere = { best: -1, older: none };

/** The VLAN in which a machine is heard; −1 where it is none or several. */
function vlanOf({ byMac, vlanOf: vlans }: Forwarding, mac: number): number {
  let found = -1;
  for (let at = byMac.starts[mac] ?? 0, end = byMac.starts[mac + 1] ?? 0; at < end; at++) {
    const vlan = vlans[byMac.rows[at] ?? 0] ?? -1;
    if (vlan >= 0 && found >= 0 && vlan !== found) return -1;
    found = Math.max(found, vlan);
  }
  return found;
}

/** Switches on which a machine may hang that none lists on a port of its own: all who hear it look towards them. Where there is none, the port behind which something is that nobody asked; `between` where there may be such a thing on the way. */
function whereTo(
  { byMac, portOf, ports }: Forwarding,
  { leadsOn }: Nearest,
  directions: Directions,
  unasked: Uint8Array,
  mac: number,
): { switches: number[]; segment: number; between: boolean } {
  const hearing = new Map<number, number>();
  for (let at = byMac.starts[mac] ?? 0, end = byMac.starts[mac + 1] ?? 0; at < end; at++) {
    const port = portOf[byMac.rows[at] ?? 0] ?? 0;
    if (leadsOn[port]) hearing.set(ports[port]?.device ?? 0, port);
  }
  // what lies behind all of these ports lies behind the one with the fewest
  let fewest: readonly number[] | null = null;
  for (const port of hearing.values())
    if (fewest === null || directions.behind(port).length < fewest.length) fewest = directions.behind(port);
  const switches = (fewest ?? []).filter((there) => {
    if (hearing.has(there)) return false;
    for (const [here, port] of hearing) if (directions.port(here, there) !== port) return false;
    return true;
  });
  if (switches.length > 0) {
    // on the way there is a bridge that nobody asked, where it may hang as well
    const isOnTheWay = (there: number) => {
      for (const [here, port] of hearing)
        if (unasked[port] === 1 || unasked[directions.port(there, here)] === 1) return true;
      return false;
    };
    const between = switches.some(isOnTheWay);
    return { switches, segment: -1, between };
  }
  // the one that all others look at hears it on a port behind which nobody lists it
  let segment = -1;
  let best = 0;
  for (const [here, port] of hearing) {
    const { yes, no } = directions.say(mac, here);
    if (no === 0 && (yes > best || (segment < 0 && hearing.size === 1))) {
      segment = port;
      best = yes;
    }
  }
  return { switches: [], segment, between: false };
}

/** VLANs are numbers of twelve bits (IEEE 802.1Q) */
const vlanCount = 4096;

/** What was asked before is not looked for again: thousands of machines of a VLAN ask the same of a switch. */
function keptBy<Value>(kept: Map<number, Value>, key: number, make: () => Value): Value {
  let value = kept.get(key);
  if (value === undefined) kept.set(key, (value = make()));
  return value;
}

/** Ports on which nothing was found yet. */
class FreePorts {
  /** by device: its heard ports by name, made when one is asked for */
  readonly #heard: (Map<string, number> | undefined)[];
  /** heard port × VLANs + VLAN → how many hang there in it */
  readonly #hanging = new MacTable(1 << 16);

  constructor(
    readonly forwarding: Forwarding,
    readonly nearest: Nearest,
    readonly uplinks: Uplinks,
    homes: Int32Array,
  ) {
    const { devices, byMac, portOf, vlanOf: vlans } = forwarding;
    this.#heard = new Array<Map<string, number> | undefined>(devices.length);
    homes.forEach((home, mac) => {
      if (home < 0) return;
      for (let at = byMac.starts[mac] ?? 0, end = byMac.starts[mac + 1] ?? 0; at < end; at++) {
        const row = byMac.rows[at] ?? 0;
        const vlan = vlans[row] ?? -1;
        if (portOf[row] !== home || vlan < 0) continue;
        const key = home * vlanCount + vlan;
        this.#hanging.set(key, Math.max(0, this.#hanging.get(key)) + 1);
      }
    });
  }

  heardPort(device: number, name: string): number {
    let own = this.#heard[device];
    if (!own) {
      this.#heard[device] = own = new Map();
      const { firstPort, ports } = this.forwarding;
      for (let port = firstPort[device] ?? 0, end = firstPort[device + 1] ?? 0; port < end; port++)
        own.set(ports[port]?.name ?? '', port);
    }
    return own.get(name) ?? -1;
  }

  leadsOn(device: number, name: string): boolean {
    const port = this.heardPort(device, name);
    return port >= 0 ? this.nearest.leadsOn[port] === 1 : (this.uplinks[device]?.has(name) ?? false);
  }

  /** How many machines hang on a port in a VLAN. */
  #crowd(device: number, name: string, vlan: number): number {
    const port = this.heardPort(device, name);
    return port < 0 || vlan < 0 ? 0 : Math.max(0, this.#hanging.get(port * vlanCount + vlan));
  }

  #isEdge(device: number, { name, physical, oper, lag, type }: PortFacts): boolean {
    return (physical || type === 'lag') && oper === 'up' && lag === null && !this.leadsOn(device, name);
  }

  readonly #silent = new Map<number, readonly string[]>();
  readonly #shared = new Map<number, readonly string[]>();

  /** Ports of a switch that are up, carry a VLAN untagged, and on which nothing hangs in it. */
  silent(device: number, vlan: number): readonly string[] {
    return keptBy(this.#silent, device * vlanCount + vlan, () => this.#silentOf(device, vlan));
  }

  /** Ports of a switch on which several hang in a VLAN, or one that is not its untagged one: access points, hypervisors, small switches. */
  shared(device: number, vlan: number): readonly string[] {
    return keptBy(this.#shared, device * vlanCount + vlan, () => this.#sharedOf(device, vlan));
  }

  #silentOf(device: number, vlan: number): string[] {
    const { ports, neighbours } = this.forwarding.devices[device] ?? { ports: [], neighbours: [] };
    // what reports itself at a port is known already
    const taken = new Set(
      neighbours.filter(({ capabilities }) => !capabilities.includes('telephone')).map(({ port }) => port),
    );
    return ports
      .filter(
        (port) =>
          port.vlan === vlan &&
          this.#isEdge(device, port) &&
          !taken.has(port.name) &&
          this.#crowd(device, port.name, vlan) === 0,
      )
      .map(({ name }) => name);
  }

  #sharedOf(device: number, vlan: number): string[] {
    const { ports } = this.forwarding.devices[device] ?? { ports: [] };
    return ports
      .filter(
        (port) =>
          this.#isEdge(device, port) &&
          (this.#crowd(device, port.name, vlan) > 1 ||
            (port.vlan !== vlan && this.#crowd(device, port.name, vlan) === 1)),
      )
      .map(({ name }) => name);
  }

  /** Whether a machine may hang on a port where it was before: it is up, leads nowhere, and nobody else hangs there alone. */
  mayHang(device: number, name: string, vlan: number): boolean {
    const port = this.forwarding.devices[device]?.ports.find((own) => own.name === name);
    if (!port || !this.#isEdge(device, port)) return false;
    // one machine where it was: somebody else was plugged in since
    if (vlan >= 0 && port.vlan === vlan && this.#crowd(device, name, vlan) === 1) return false;
    return vlan < 0 || port.vlan === null || carriesVlan(port, vlan);
  }
}

/** Machines go to the only port they can be on: nothing else may lay claim to it. */
function eliminate(
  open: { mac: number; vlan: number; switches: number[] }[],
  free: FreePorts,
  put: (mac: number, device: number, port: string, vlan: number, basis: 'remaining') => void,
): void {
  const wanted = new Map<number, number>();
  for (const { vlan, switches } of open)
    for (const device of switches)
      wanted.set(device * vlanCount + vlan, (wanted.get(device * vlanCount + vlan) ?? 0) + 1);
  /** the one port of all these switches; null where there are more, undefined where there is none */
  const only = (switches: number[], of: (device: number) => readonly string[]) => {
    let found: { device: number; port: string } | undefined;
    for (const device of switches) {
      const ports = of(device);
      if (ports.length === 0) continue;
      if (found || ports.length > 1) return null;
      found = { device, port: ports[0] ?? '' };
    }
    return found;
  };
  const found = open.flatMap(({ mac, vlan, switches }) => {
    if (vlan < 0 || switches.length > mostSwitches) return [];
    const silent = only(switches, (device) => free.silent(device, vlan));
    const place =
      silent === undefined
        ? only(switches, (device) => free.shared(device, vlan))
        : switches.every((device) => wanted.get(device * vlanCount + vlan) === 1)
          ? silent
          : null;
    return place ? [{ mac, vlan, ...place }] : [];
  });
  // all at once, so that none is the reason for another
  for (const { mac, vlan, device, port } of found) put(mac, device, port, vlan, 'remaining');
}

const mostSwitches = 8;
