import { addSummaries, summarisePorts, type CountedPort, type PortSummary } from '../../core/switching/portSummary';
import { passesThrough } from '../../core/switching/uplinks';
import type { Role } from '../../core/estate/facts';
import { rowsThatFit } from '../../core/tables/select';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import type { MarkedRow } from '../query/tables/thingTable';
import { Calendar } from '../query/calendar';
import { thingRows } from '../query/query';

/** Ports of some switches on paper: how many there are, what hangs on them, and how all of it is known. */
export interface PortReport {
  at: string;
  idleDays: number;
  total: PortSummary;
  /** switches that fit and are too many for one report */
  left: number;
  switches: SwitchReport[];
}

export interface SwitchReport {
  id: string;
  name: string;
  site: string;
  model: string;
  release: string;
  address: string;
  location: string;
  state: string;
  summary: PortSummary;
  /** in a sentence each */
  spanningTree: string[];
  attached: {
    port: string;
    device: string;
    devicePort: string;
    role: string;
    speedBps: number | null;
    confidence: string;
    findings: string;
  }[];
  machines: {
    port: string;
    alias: string;
    vlan: number | null;
    words: string;
    addresses: string[];
    mac: string;
    maker: string;
    via: string;
    basis: string;
  }[];
  /** who told of machines here, and of how many */
  sources: { by: string; told: string; count: number }[];
  /** what asking it cost, question by question, the longest first */
  questions: { part: string; seconds: number }[];
  seconds: number | null;
}

const mostSwitches = 60;
const leastSeconds = 0.001;

/** @param where which devices, as a filter; of these only what passes frames on @throws FilterError */
export function portReport(store: Store, survey: number, where: string, idleDays: number): PortReport {
  const tables = tablesOf(store);
  const at = new Calendar(store.db).momentOf(survey);
  const table = tables.table('devices', survey, null);
  const devices =
    survey === 0
      ? []
      : table
          .rows(rowsThatFit(tables.select('devices', survey, table, where)))
          .filter(({ role }) => passesThrough.has(role as Role));
  const links = devices.length > 0 ? thingRows(store, 'links', survey, null) : [];
  const roles = new Map(
    (devices.length > 0 ? table.rows(Array.from({ length: table.size }, (_, row) => row)) : []).map((row) => [
      Number(row.id),
      String(row.role),
    ]),
  );
  const visits = new Map(thingRows(store, 'visits', survey, null).map((row) => [Number(row.deviceId), row]));
  const switches = devices
    .slice(0, mostSwitches)
    .map((device) => switchReport(store, survey, device, links, roles, visits.get(Number(device.id)), idleDays));
  return {
    at,
    idleDays,
    total: addSummaries(switches.map(({ summary }) => summary)),
    left: devices.length - switches.length,
    switches,
  };
}

function switchReport(
  store: Store,
  survey: number,
  device: MarkedRow,
  links: MarkedRow[],
  roles: ReadonlyMap<number, string>,
  visit: MarkedRow | undefined,
  idleDays: number,
): SwitchReport {
  const tables = tablesOf(store);
  const id = Number(device.id);
  const name = String(device.name);
  const ports = tables.ofDevice('ports', survey, id);
  const machines = tables.ofDevice('endpoints', survey, id);
  const aliases = new Map(ports.map((port) => [String(port.name), String(port.alias)]));
  const order = new Map(ports.map((port, place) => [String(port.name), place]));
  const phases = (visit?.phases ?? {}) as Record<string, number>;
  return {
    id: String(device.id),
    name,
    site: String(device.site),
    model: [device.vendor, device.model].filter(Boolean).join(' '),
    release: String(device.release),
    address: String(device.address),
    location: String(device.location),
    state: String(device.state),
    summary: summarisePorts(ports as unknown as CountedPort[], idleDays * 86_400),
    spanningTree: spanningTreeOf(ports),
    attached: links
      .flatMap((link) => {
        const here =
          link.fromId === id
            ? { port: link.fromPort, deviceId: link.toId, device: link.to, devicePort: link.toPort }
            : link.toId === id
              ? { port: link.toPort, deviceId: link.fromId, device: link.from, devicePort: link.fromPort }
              : null;
        const role = roles.get(Number(here?.deviceId)) ?? '';
        return here && passesThrough.has(role as Role)
          ? [
              {
                port: String(here.port),
                device: String(here.device),
                devicePort: String(here.devicePort),
                role,
                speedBps: link.speedBps as number | null,
                confidence: String(link.confidence),
                findings: String(link.issueWords),
              },
            ]
          : [];
      })
      .sort((x, y) => (order.get(x.port) ?? 0) - (order.get(y.port) ?? 0)),
    machines: machines
      .map((row) => ({
        port: String(row.port),
        alias: aliases.get(String(row.port)) ?? '',
        vlan: row.vlan as number | null,
        words: String(row.host),
        addresses: row.addresses as string[],
        mac: String(row.mac),
        maker: String(row.maker),
        via: String(row.via),
        basis: String(row.basis),
      }))
      .sort((x, y) => (order.get(x.port) ?? 0) - (order.get(y.port) ?? 0) || x.mac.localeCompare(y.mac)),
    sources: sourcesOf(name, machines),
    questions: Object.entries(phases)
      .filter(([part, seconds]) => seconds >= leastSeconds && part !== 'collect')
      .map(([part, seconds]) => ({ part, seconds }))
      .sort((x, y) => y.seconds - x.seconds),
    seconds: visit === undefined ? null : Number(visit.seconds),
  };
}

type Stp = { state: string; role: string; designatedBridge: string | null } | null;

/** What spanning tree says of a switch: which way its root lies, and what is blocked. */
function spanningTreeOf(ports: MarkedRow[]): string[] {
  const told = ports.flatMap((port) =>
    port.stp ? [{ name: String(port.name), stp: port.stp as NonNullable<Stp> }] : [],
  );
  if (told.length === 0) return ['It tells nothing of spanning tree.'];
  const of = (role: string) => told.filter(({ stp }) => stp.role === role).map(({ name }) => name);
  const blocked = told.filter(({ stp }) => stp.state === 'blocking').map(({ name }) => name);
  const root = of('root');
  return [
    root.length > 0
      ? `The root lies behind port ${root.join(', ')}.`
      : 'No port of it leads to a root: it holds itself for the root.',
    blocked.length > 0 ? `Blocked: port ${blocked.join(', ')}.` : 'No port is blocked.',
    `${of('designated').length} ports are designated.`,
  ];
}

/** Who told of the machines at a switch: tables of forwarding and of addresses, neighbour reports. */
function sourcesOf(name: string, machines: MarkedRow[]): SwitchReport['sources'] {
  const told = new Map<string, { by: string; told: string; count: number }>();
  const add = (by: string, what: string) => {
    const known = told.get(`${by}\n${what}`);
    if (known) known.count++;
    else told.set(`${by}\n${what}`, { by, told: what, count: 1 });
  };
  const basisTold: Record<string, string> = {
    heard: 'places, from its forwarding table',
    reported: 'places, from neighbour reports',
    remaining: 'places, as the only port left',
    segment: 'places behind something nobody asked',
    remembered: 'places, from an earlier survey',
  };
  for (const { basis } of machines) add(name, basisTold[String(basis)] ?? 'places');
  for (const { toldBy } of machines) for (const by of toldBy as string[]) add(by, 'addresses, from its address table');
  return [...told.values()].sort((x, y) => y.count - x.count || x.by.localeCompare(y.by));
}
