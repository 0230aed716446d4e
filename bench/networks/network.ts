import type { DeviceFacts, NeighbourFacts, PortFacts, Role, SightingFacts } from '../../src/core/estate/facts';
import { heardTables } from '../../src/core/switching/heardTables';
import type { SightedDevice } from '../../src/core/switching/heardTables';
import { Chance } from './chance';

/**
 * Networks of which everything is known: switches in trees with spare links that spanning tree blocks, aggregates, chains, switches that nobody asked, and on
 * their ports what hangs on ports: machines, phones with a computer behind, small switches nobody manages, access points, hypervisors, machines that have moved.
 * What a collector would read of them (forwarding tables, address tables, neighbour reports) is then lost here and there, as in life.
 */
export interface NetworkPlan {
  seed: number;
  sites: number;
  /** switches of each site, the two cores included */
  switches: number;
  /** share of the rows of forwarding tables that are there */
  rows: number;
  /** share of switches that speak LLDP; a tenth of them only send, another tenth only listen */
  speaking: number;
  /** share of switches that tell spanning tree */
  spanning: number;
  /** share of access switches that nobody asked */
  unasked: number;
  /** machines on each access switch, about */
  machines: number;
  /** which look at the same network: others rows are lost, and between the first and the second some machines have moved */
  look: number;
  /** which reading of the tables within that look: others rows are lost, everything else stays */
  reading: number;
}

export const usualPlan: NetworkPlan = {
  seed: 1,
  sites: 10,
  switches: 40,
  rows: 0.9,
  speaking: 0.7,
  spanning: 0,
  unasked: 0.03,
  machines: 26,
  look: 1,
  reading: 1,
};

export interface TrueEndpoint {
  mac: string;
  /** ports of asked switches that are right to be named; several where it hangs on a segment between some */
  places: { deviceId: number; port: string }[];
  kind:
    | 'direct'
    | 'phone'
    | 'behindPhone'
    | 'unmanaged'
    | 'accessPoint'
    | 'wireless'
    | 'hypervisor'
    | 'virtual'
    | 'moved'
    | 'unasked';
  /** it sent something of late, so that some table has it */
  heard: boolean;
}

/** A cable between two asked switches, or an aggregate of several. */
export interface TrueLink {
  a: { deviceId: number; port: string };
  b: { deviceId: number; port: string };
  /** pairs of ports, where it is an aggregate */
  members: { a: string; b: string }[];
  /** how many ends hear the other by LLDP */
  reports: 0 | 1 | 2;
  /** rests, so that no forwarding table knows of it */
  blocked: boolean;
  /** the end that is not designated tells spanning tree, and the other its numbers of ports */
  spans: boolean;
}

export interface Network {
  devices: SightedDevice[];
  /** what each switch hears, row by row, by its number */
  sightings: Map<number, SightingFacts>;
  endpoints: TrueEndpoint[];
  links: TrueLink[];
  counts: { switches: number; ports: number; rows: number; addresses: number };
}

interface Port {
  facts: PortFacts;
  edge: boolean;
  used: boolean;
}
interface Switch {
  id: number;
  name: string;
  site: number;
  asked: boolean;
  sends: boolean;
  listens: boolean;
  spans: boolean;
  bridge: string;
  management: string;
  ports: Map<string, Port>;
  vlans: number[];
  neighbours: NeighbourFacts[];
  rows: SightingFacts['forwarding'];
  addresses: SightingFacts['addresses'];
  /** link towards the root and links away from it, as frames pass */
  up: Wire | null;
  down: Wire[];
  core: boolean;
}
interface Wire {
  upper: Switch;
  upperPort: string;
  lower: Switch;
  lowerPort: string;
  blocked: boolean;
}

const accessVlans = [110, 120, 130, 140, 150];
const voice = 200;
const wifi = [310, 320];
const management = 70;

export function generateNetwork(plan: NetworkPlan): Network {
  const chance = new Chance(plan.seed);
  /** what a look happens to catch; the network itself stays the same */
  const luck = new Chance(plan.seed * 7919 + plan.look + (plan.reading - 1) * 104_729);
  let nextMac = 0x0210_0000_0000 + plan.seed * 0x1000_0000;
  const newMac = (): string =>
    (++nextMac)
      .toString(16)
      .padStart(12, '0')
      .replace(/(..)(?=.)/g, '$1:');
  const devices: SightedDevice[] = [];
  const sightings: Network['sightings'] = new Map();
  const endpoints: TrueEndpoint[] = [];
  const links: TrueLink[] = [];
  let id = 0;
  const counts = { switches: 0, ports: 0, rows: 0, addresses: 0 };

  for (let site = 0; site < plan.sites; site++) {
    const switches: Switch[] = [];
    const wires: Wire[] = [];
    const add = (name: string, core: boolean, edges: number, vlans: number[]): Switch => {
      const made: Switch = {
        id: ++id,
        name: `s${site}-${name}`,
        site,
        core,
        asked: core || !chance.is(plan.unasked),
        ...lldpOf(chance, plan.speaking),
        spans: chance.is(plan.spanning),
        bridge: newMac(),
        management: newMac(),
        ports: new Map(),
        vlans,
        neighbours: [],
        rows: [],
        addresses: [],
        up: null,
        down: [],
      };
      for (let at = 1; at <= edges; at++) addPort(made, `1/${at}`, true);
      made.ports.set('vlan70', {
        facts: { ...portFacts(999, 'vlan70', made.management), physical: false, type: 'virtual' },
        edge: false,
        used: true,
      });
      switches.push(made);
      return made;
    };
    const addPort = (of: Switch, name: string, edge: boolean): Port => {
      const port: Port = {
        facts: {
          ...portFacts(of.ports.size + 1, name, newMac()),
          vlan: edge ? chance.of(of.vlans) : null,
          taggedVlans: edge ? [voice] : [...of.vlans, voice, ...wifi, management],
          oper: edge ? 'down' : 'up',
        },
        edge,
        used: false,
      };
      of.ports.set(name, port);
      return port;
    };
    const wire = (upper: Switch, lower: Switch, blocked: boolean): void => {
      const lag = chance.is(0.2) ? chance.between(2, 4) : 0;
      const end = (of: Switch) => {
        const base = `2/${[...of.ports.keys()].filter((port) => port.startsWith('2/')).length + 1}`;
        if (lag === 0) {
          addPort(of, base, false);
          return base;
        }
        const name = `lag${[...of.ports.keys()].filter((port) => port.startsWith('lag')).length + 1}`;
        const aggregate = addPort(of, name, false);
        aggregate.facts.type = 'lag';
        aggregate.facts.physical = false;
        const first = [...of.ports.keys()].filter((port) => port.startsWith('2/')).length;
        for (let at = 1; at <= lag; at++) addPort(of, `2/${first + at}`, false).facts.lag = name;
        return name;
      };
      const [upperPort, lowerPort] = [end(upper), end(lower)];
      const made = { upper, upperPort, lower, lowerPort, blocked };
      wires.push(made);
      if (!blocked) {
        lower.up = made;
        upper.down.push(made);
      }
      const members = (of: Switch, port: string) =>
        port.startsWith('lag')
          ? [...of.ports].filter(([, { facts }]) => facts.lag === port).map(([name]) => name)
          : [port];
      const [above, below] = [members(upper, upperPort), members(lower, lowerPort)];
      above.forEach((port, at) => {
        const other = below[at] ?? '';
        if (upper.listens && lower.sends) upper.neighbours.push(report(port, lower, other));
        if (lower.listens && upper.sends) lower.neighbours.push(report(other, upper, port));
      });
      const reports = ((upper.listens && lower.sends ? 1 : 0) + (lower.listens && upper.sends ? 1 : 0)) as 0 | 1 | 2;
      const isAggregate = upperPort.startsWith('lag');
      if (upper.asked && lower.asked)
        links.push({
          a: { deviceId: upper.id, port: upperPort },
          b: { deviceId: lower.id, port: lowerPort },
          members: isAggregate ? above.map((port, at) => ({ a: port, b: below[at] ?? '' })) : [],
          reports,
          blocked,
          spans: upper.spans && lower.spans,
        });
      const speaks = upper.ports.get(upperPort)?.facts.index ?? 0;
      const tell = (of: Switch, port: string, state: string, role: string) => {
        const facts = of.ports.get(port)?.facts;
        if (of.spans && facts)
          facts.stp = { state, role, designatedBridge: upper.bridge, designatedPort: speaks, number: facts.index };
      };
      tell(upper, upperPort, 'forwarding', 'designated');
      tell(lower, lowerPort, blocked ? 'blocking' : 'forwarding', blocked ? 'alternate' : 'root');
    };

    const cores = [add('core-1', true, 16, accessVlans), add('core-2', true, 16, accessVlans)];
    const [root, second] = cores as [Switch, Switch];
    wire(root, second, false);
    const distributions = Array.from({ length: Math.max(1, Math.round((plan.switches - 2) / 7)) }, (_, at) =>
      add(`dist-${at + 1}`, false, 8, accessVlans),
    );
    for (const made of distributions) {
      made.asked = true;
      wire(root, made, false);
      wire(second, made, true);
    }
    const access: Switch[] = [];
    while (switches.length < plan.switches) {
      const vlans = [...new Set([chance.of(accessVlans), chance.of(accessVlans), chance.of(accessVlans)])];
      const made = add(`acc-${access.length + 1}`, false, 48, vlans);
      const chained = access.length > 2 && chance.is(0.15);
      wire(chained ? chance.of(access) : chance.of(distributions), made, false);
      // a spare way that is blocked
      if (chance.is(0.3)) wire(chance.of(distributions), made, true);
      access.push(made);
    }

    // what leads from one switch to another, as frames pass
    const pathTo = (from: Switch): Switch[] => {
      const path = [from];
      for (let at = from; at.up; at = at.up.upper) path.push(at.up.upper);
      return path;
    };
    const heardAt = (on: Switch, origin: Switch, originPort: string): string | null => {
      if (on === origin) return originPort;
      const up = pathTo(origin);
      const place = up.indexOf(on);
      // below us, or else towards the root
      return place > 0
        ? (on.down.find(({ lower }) => lower === up[place - 1])?.upperPort ?? null)
        : (on.up?.lowerPort ?? null);
    };
    /** Who learns a MAC: all on its way to the core, and those whom its broadcasts reached of late. */
    const learn = (mac: string, vlan: number, origin: Switch, port: string, loud: number): void => {
      const path = new Set(pathTo(origin));
      for (const on of switches) {
        if (
          !on.asked ||
          !(
            path.has(on) ||
            (luck.is(loud) &&
              (vlan === management || vlan === voice || wifi.includes(vlan) || on.core || on.vlans.includes(vlan)))
          )
        )
          continue;
        const at = heardAt(on, origin, port);
        if (at !== null && luck.is(plan.rows)) on.rows.push({ mac, port: at, vlan });
      }
    };
    let host = 0;
    const tellAddress = (mac: string): void => {
      const address = `10.${site % 250}.${10 + (host >> 8)}.${host & 255}`;
      host++;
      for (const core of cores) if (luck.is(0.9)) core.addresses.push({ mac, address });
    };
    for (const of of switches) {
      learn(of.management, management, of, 'vlan70', 0.5);
      // a switch does not list its own
      of.rows = of.rows.filter(({ port }) => port !== 'vlan70');
      if (luck.is(0.9)) tellAddress(of.management);
    }
    // virtual router addresses are heard from the core that is active
    for (const vlan of accessVlans)
      learn(`00:00:5e:00:01:${(vlan % 256).toString(16).padStart(2, '0')}`, vlan, root, 'vlan70', 1);
    root.rows = root.rows.filter(({ mac }) => !mac.startsWith('00:00:5e'));

    const own: Switch[] = [...access, ...distributions.filter(() => chance.is(0.3))];
    for (const on of own) {
      const free = [...on.ports].filter(([, { edge }]) => edge);
      const placesOf = (port: string): TrueEndpoint['places'] =>
        on.asked ? [{ deviceId: on.id, port }] : aroundUnasked(on);
      const hang = (mac: string, vlan: number, port: string, kind: TrueEndpoint['kind'], heard = true) => {
        endpoints.push({ mac, places: placesOf(port), kind: on.asked ? kind : 'unasked', heard });
        if (!heard) return;
        learn(mac, vlan, on, port, 0.5);
        tellAddress(mac);
      };
      const count = Math.min(
        free.length - 2,
        Math.max(2, Math.round(plan.machines * (0.6 + chance.next() * 0.8) * (on.core ? 0.2 : 1))),
      );
      for (let at = 0; at < count; at++) {
        const [port, { facts }] = free.splice(Math.floor(chance.next() * free.length), 1)[0] as [string, Port];
        const vlan = facts.vlan ?? 110;
        facts.oper = 'up';
        const dice = chance.next();
        const speaker = (mac: string, name: string, capabilities: string[]) =>
          on.listens &&
          on.neighbours.push({
            port,
            chassisId: mac,
            chassisIdSubtype: 'macAddress',
            portId: mac,
            portIdSubtype: 'macAddress',
            portDescription: '',
            systemName: name,
            systemDescription: '',
            capabilities,
            managementAddresses: [],
          });
        if (dice < 0.14) {
          const phone = newMac();
          if (chance.is(0.7)) speaker(phone, `phone-${phone.slice(-5)}`, ['bridge', 'telephone']);
          hang(phone, voice, port, 'phone');
          if (chance.is(0.8)) hang(newMac(), vlan, port, 'behindPhone');
        } else if (dice < 0.18) {
          for (let machine = chance.between(2, 7); machine > 0; machine--) hang(newMac(), vlan, port, 'unmanaged');
        } else if (dice < 0.22) {
          const accessPoint = newMac();
          facts.vlan = management;
          facts.taggedVlans = [...wifi];
          if (chance.is(0.8)) speaker(accessPoint, `ap-${accessPoint.slice(-5)}`, ['bridge', 'wlanAccessPoint']);
          hang(accessPoint, management, port, 'accessPoint');
          for (let client = chance.between(3, 12); client > 0; client--)
            hang(newMac(), chance.of(wifi), port, 'wireless');
          if (on.asked && chance.is(0.5))
            devices.push(known(++id, `s${site}-ap-${id}`, 'access-point', site, [accessPoint]));
        } else if (dice < 0.25) {
          const adapter = newMac();
          facts.taggedVlans = [...on.vlans];
          hang(adapter, vlan, port, 'hypervisor');
          const machines = Array.from({ length: chance.between(3, 8) }, newMac);
          for (const mac of machines) hang(mac, chance.of(on.vlans), port, 'virtual');
          // a host that was asked tells of its machines
          if (on.asked && chance.is(0.7))
            devices.push({
              ...known(++id, `s${site}-hv-${id}`, 'hypervisor', site, [adapter]),
              machines: machines.map((mac) => ({
                host: '',
                state: 'running' as const,
                adapters: [{ mac, port: null, network: null }],
              })),
            });
        } else if (dice < 0.27) {
          // switched on and asleep
          hang(newMac(), vlan, port, 'direct', false);
        } else if (dice < 0.3) {
          const mac = newMac();
          const other = chance.of(access);
          const [old] =
            [...other.ports].find(
              ([
                ,
                {
                  edge,
                  facts: { oper },
                },
              ]) => edge && oper === 'down',
            ) ?? [];
          const elsewhere = other !== on && other.asked && on.asked && old !== undefined && !pathTo(on).includes(other);
          if (elsewhere && plan.look === 1) {
            // where it was before it moved
            facts.oper = 'down';
            endpoints.push({ mac, places: [{ deviceId: other.id, port: old }], kind: 'moved', heard: true });
            const was = other.ports.get(old);
            if (was) was.facts.oper = 'up';
            learn(mac, vlan, other, old, 0.5);
            tellAddress(mac);
          } else {
            hang(mac, vlan, port, 'moved');
            // the table of where it was has not forgotten it yet
            if (elsewhere) other.rows = [...other.rows.filter((row) => row.mac !== mac), { mac, port: old, vlan }];
          }
        } else hang(newMac(), vlan, port, 'direct');
      }
    }
    /** Where machines of a switch that nobody asked may be said to hang: on any port that leads to it. */
    function aroundUnasked(on: Switch): TrueEndpoint['places'] {
      return wires.flatMap(({ upper, upperPort, lower, lowerPort, blocked }) => {
        if (blocked) return [];
        if (lower === on) return upper.asked ? [{ deviceId: upper.id, port: upperPort }] : aroundUnasked(upper);
        return upper === on && lower.asked ? [{ deviceId: lower.id, port: lowerPort }] : [];
      });
    }
    for (const made of switches) {
      if (!made.asked) continue;
      counts.switches++;
      counts.ports += made.ports.size;
      counts.rows += made.rows.length;
      counts.addresses += made.addresses.length;
      const sighted = { forwarding: shuffled(made.rows, luck), addresses: made.addresses };
      sightings.set(made.id, sighted);
      devices.push({
        id: made.id,
        device: deviceFacts(made.name, made.core ? 'router' : 'switch', site, made.id, made.bridge),
        ports: [...made.ports.values()].map(({ facts }) => facts),
        neighbours: made.neighbours.filter(({ port }) => port !== ''),
        answered: true,
        heard: heardTables(sighted),
      });
    }
  }
  return { devices, sightings, endpoints, links, counts };
}

function shuffled<Value>(list: Value[], chance: Chance): Value[] {
  const order = [...list];
  for (let at = order.length - 1; at > 0; at--) {
    const other = chance.between(0, at);
    [order[at], order[other]] = [order[other] as Value, order[at] as Value];
  }
  return order;
}

/** Whether a switch sends reports, and whether it listens to those of others (IEEE 802.1AB, adminStatus). */
function lldpOf(chance: Chance, speaking: number): { sends: boolean; listens: boolean } {
  if (!chance.is(speaking)) return { sends: false, listens: false };
  const half = chance.next();
  return { sends: speaking === 1 || half >= 0.1, listens: speaking === 1 || half < 0.1 || half >= 0.2 };
}

const portFacts = (index: number, name: string, mac: string): PortFacts => ({
  index,
  name,
  alias: '',
  description: '',
  type: 'ethernet',
  physical: true,
  admin: 'up',
  oper: 'up',
  speedBps: 1e9,
  duplex: 'full',
  mtu: 1500,
  mac,
  vlan: null,
  taggedVlans: [],
  addresses: [],
  lag: null,
  stp: null,
  poe: null,
});

const deviceFacts = (name: string, role: Role, site: number, id: number, bridgeAddress: string | null): DeviceFacts =>
  ({
    name,
    role,
    site: `S${site}`,
    address: `172.${16 + (id >> 16)}.${(id >> 8) & 255}.${id & 255}`,
    addresses: [],
    bridgeAddress,
    units: [],
    serial: `N${id}`,
  }) as unknown as DeviceFacts;

const known = (id: number, name: string, role: Role, site: number, macs: string[]): SightedDevice => ({
  id,
  device: deviceFacts(name, role, site, id, null),
  ports: macs.map((mac, at) => portFacts(at + 1, `eth${at}`, mac)),
  neighbours: [],
  answered: true,
  heard: heardTables({ forwarding: [], addresses: [] }),
});

const report = (port: string, other: Switch, otherPort: string): NeighbourFacts => ({
  port,
  chassisId: other.bridge,
  chassisIdSubtype: 'macAddress',
  portId: otherPort,
  portIdSubtype: 'interfaceName',
  portDescription: '',
  systemName: other.name,
  systemDescription: '',
  capabilities: other.core ? ['bridge', 'router'] : ['bridge'],
  managementAddresses: [],
});
