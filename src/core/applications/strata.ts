import { compareNaturally } from '../values/naturalOrder';
import { hostKey } from './application';
import type { Assembled, Part } from './assemble';

/** A thing as it stands in the strata of an application. */
export interface Plate {
  /** the same thing has the same key wherever it stands */
  key: string;
  /** what may be opened: `device` and its number, nothing for others */
  kind: 'user' | 'service' | 'device' | 'endpoint' | 'machine';
  id: string;
  name: string;
  /** what else is known of it, in few words */
  note: string;
  /** its loss alone stops the application */
  isAlone: boolean;
}

/** Plates that stand in for each other. */
export interface Bracket {
  /** `any of 2`, `2 of 3`; empty where each stands for itself */
  words: string;
  plates: Plate[];
}

export interface Stratum {
  title: string;
  brackets: Bracket[];
}

/** That one plate rests on another, by their keys. */
export interface StrataLine {
  from: string;
  to: string;
  proof: string;
}

export interface Strata {
  strata: Stratum[];
  lines: StrataLine[];
}

/** Whom something rests on besides what it talks to, any of some. */
export interface Rest {
  kind: 'machine' | 'hypervisor' | 'switch' | 'gateway' | 'power';
  /** things, with the evidence of each */
  on: readonly { kind: 'device' | 'machine'; id: string; name: string; proof: string }[];
}

export type CarriedKind = 'device' | 'endpoint' | 'machine';

export interface StrataFacts {
  assembled: Assembled;
  /** who asks parts from outside, by the place of the part */
  users: readonly { id: string; name: string; site: string; part: number; proof: string }[];
  /** so many of the services of one process must go on; one, where nobody says otherwise */
  atLeast: (service: string) => number;
  /** by the number of a device, the address of an endpoint or the id of a machine: what carries it */
  restsOf: (kind: CarriedKind, id: string) => readonly Rest[];
  /** whether the loss of a thing alone stops the application: `device` and its number, `endpoint` and its address, `service` as `12 fareweb`, `machine` */
  isAlone: (kind: CarriedKind | 'service', id: string) => boolean;
}

/** More than so many that ask are told by site. */
const mostUsers = 10;
const titles = {
  hosts: 'Hosts',
  machine: 'Virtual machines',
  hypervisor: 'Hypervisors',
  switch: 'Switches and ports',
  gateway: 'Gateways',
  power: 'Power',
} as const;
const order = ['machine', 'hypervisor', 'switch', 'gateway', 'power'] as const;

const plateKey = (kind: string, id: string): string => `${kind} ${id}`;
const serviceKey = (part: Pick<Part, 'deviceId' | 'address' | 'service'>): string =>
  plateKey('service', `${hostKey(part)} ${part.service}`);
const hostKind = ({ deviceId }: Pick<Part, 'deviceId'>) => (deviceId > 0 ? ('device' as const) : ('endpoint' as const));
const hostPlateKey = (part: Pick<Part, 'deviceId' | 'address'>): string => plateKey(hostKind(part), hostKey(part));

/** An application as strata, from who uses it down to what carries its hosts; a line only where there is evidence. */
export function strataOf(facts: StrataFacts): Strata {
  const { parts, talks } = facts.assembled;
  const lines: StrataLine[] = talks.flatMap(({ client, server, proof }) => {
    const [from, to] = [parts[client], parts[server]];
    return from && to ? [{ from: serviceKey(from), to: serviceKey(to), proof }] : [];
  });
  const strata: Stratum[] = [usersOf(facts, lines)];
  const own = parts.filter(({ verdict }) => verdict !== 'shared');
  const tiers = [...new Set(own.map(({ tier }) => tier))].sort((x, y) => x - y);
  tiers.forEach((tier, at) =>
    strata.push(
      servicesOf(
        facts,
        tierWords(at, tiers.length),
        own.filter((part) => part.tier === tier),
      ),
    ),
  );
  strata.push(
    servicesOf(
      facts,
      'Shared with others',
      parts.filter(({ verdict }) => verdict === 'shared'),
    ),
  );
  // what carries others is asked of those of the application alone
  const hosts = new Map(own.map((part) => [hostKey(part), part]));
  const carrying = carryingHosts(facts, [...hosts.values()]);
  strata.push({
    title: titles.hosts,
    brackets: [...hosts.values()]
      .filter(({ deviceId }) => !carrying.has(deviceId))
      .map((host) => ({ words: '', plates: [hostPlate(facts, host)] })),
  });
  for (const part of own) lines.push({ from: serviceKey(part), to: hostPlateKey(part), proof: 'runs on it' });
  strata.push(...carriersOf(facts, [...hosts.values()], carrying, lines));
  return { strata: strata.filter(({ brackets }) => brackets.length > 0), lines: distinct(lines) };
}

export const tierWords = (at: number, of: number): string =>
  at === 0 ? (of === 1 ? 'Parts' : 'Asked from outside') : at === of - 1 ? 'At the bottom' : `Behind it, step ${at}`;

function usersOf({ users, assembled: { parts } }: StrataFacts, lines: StrataLine[]): Stratum {
  type User = (typeof users)[number];
  const isDevice = ({ id }: User) => /^\d+$/.test(id);
  const areMany = new Set(users.map(({ id }) => id)).size > mostUsers;
  const found = new Map<string, { name: string; asks: User[] }>();
  for (const user of users) {
    // devices stand for themselves; of the rest a site says more than an address
    const key = areMany && !isDevice(user) ? `at ${user.site}` : user.id;
    const known = found.get(key) ?? { name: user.name, asks: [] };
    found.set(key, known);
    known.asks.push(user);
  }
  for (const [key, group] of found) {
    if (!key.startsWith('at ')) continue;
    const many = new Set(group.asks.map(({ id }) => id)).size;
    const [only] = group.asks;
    group.name = many === 1 && only ? only.name : `${many} ${key === 'at ' ? 'somewhere' : key}`;
  }
  const ranked = [...found].sort(
    (x, y) => y[1].asks.length - x[1].asks.length || compareNaturally(x[1].name, y[1].name),
  );
  const shown = ranked.length > mostUsers + 1 ? ranked.slice(0, mostUsers) : ranked;
  const rest = ranked.slice(shown.length);
  const tell = (key: string, asks: readonly User[]) => {
    for (const { part, proof } of asks) {
      const to = parts[part];
      if (to) lines.push({ from: key, to: serviceKey(to), proof });
    }
  };
  const plates = shown.map(([id, { name, asks }]): Plate => {
    const key = plateKey('user', id);
    tell(key, asks);
    const isOne = /^\d+$/.test(id);
    return { key, kind: isOne ? 'device' : 'user', id: isOne ? id : '', name, note: '', isAlone: false };
  });
  if (rest.length > 0) {
    const key = plateKey('user', 'others');
    tell(
      key,
      rest.flatMap(([, { asks }]) => asks),
    );
    plates.push({ key, kind: 'user', id: '', name: `${rest.length} more`, note: '', isAlone: false });
  }
  return { title: 'Who uses it', brackets: plates.map((plate) => ({ words: '', plates: [plate] })) };
}

function servicesOf({ atLeast, isAlone }: StrataFacts, title: string, parts: readonly Part[]): Stratum {
  const groups = new Map<string, Part[]>();
  for (const part of parts) {
    const called = part.service || part.device;
    const known = groups.get(called);
    if (known) known.push(part);
    else groups.set(called, [part]);
  }
  return {
    title,
    brackets: [...groups].map(([called, all]) => ({
      words: bracketWords(atLeast(called), all.length),
      plates: all.map((part) => ({
        key: serviceKey(part),
        kind: 'service' as const,
        id: `${hostKey(part)} ${part.service}`,
        name: part.service || part.device,
        note: part.service ? `on ${part.device}` : '',
        isAlone:
          part.deviceId > 0
            ? isAlone('service', `${hostKey(part)} ${part.service}`)
            : isAlone('endpoint', part.address),
      })),
    })),
  };
}

const bracketWords = (atLeast: number, of: number): string =>
  of < 2 ? '' : atLeast <= 1 ? `any of ${of}` : `${Math.min(atLeast, of)} of ${of}`;

const hostPlate = ({ isAlone }: StrataFacts, host: Part): Plate => ({
  key: hostPlateKey(host),
  kind: hostKind(host),
  id: hostKey(host),
  name: host.device,
  note: host.site,
  isAlone: isAlone(hostKind(host), hostKey(host)),
});

type Host = Pick<Part, 'deviceId' | 'address' | 'device'>;

/** What a device or machine rests on. A machine of the name of the device in it is no plate beside that. */
function restsAsDrawn({ restsOf }: StrataFacts, kind: CarriedKind, id: string, name: string): Rest[] {
  return restsOf(kind, id).flatMap((rest): Rest[] => {
    if (kind !== 'device' || rest.kind !== 'machine') return [rest];
    return rest.on.flatMap((machine): Rest[] => {
      const below = restsOf('machine', machine.id);
      if (machine.name.toLowerCase() !== name.toLowerCase() || below.length === 0)
        return [{ kind: 'machine', on: [machine] }];
      return below.map((one) => ({
        ...one,
        on: one.on.map((other) => ({ ...other, proof: `${machine.name}: ${other.proof}` })),
      }));
    });
  });
}

/** Hosts that carry machines of the others: they stand below these. */
function carryingHosts(facts: StrataFacts, hosts: readonly Host[]): Set<number> {
  const found = new Set<number>();
  for (const host of hosts)
    for (const rest of restsAsDrawn(facts, hostKind(host), hostKey(host), host.device))
      for (const { kind, on } of rest.kind === 'machine'
        ? rest.on.flatMap(({ id }) => facts.restsOf('machine', id))
        : [rest])
        if (kind === 'hypervisor') for (const { id } of on) found.add(Number(id));
  return found;
}

/** What carries hosts, layer by layer: what stands in for each other in one bracket. */
function carriersOf(
  facts: StrataFacts,
  hosts: readonly Host[],
  carrying: ReadonlySet<number>,
  lines: StrataLine[],
): Stratum[] {
  const layers = new Map<Rest['kind'], Map<string, Bracket>>();
  const placed = new Set(hosts.flatMap((host) => (carrying.has(host.deviceId) ? [] : [hostPlateKey(host)])));
  const waiting = hosts.map((host) => ({ kind: hostKind(host) as CarriedKind, id: hostKey(host), name: host.device }));
  const seen = new Set<string>();
  for (let next = waiting.shift(); next; next = waiting.shift()) {
    const own = plateKey(next.kind, next.id);
    if (seen.has(own)) continue;
    seen.add(own);
    for (const { kind, on } of restsAsDrawn(facts, next.kind, next.id, next.name)) {
      const layer = layers.get(kind) ?? new Map<string, Bracket>();
      layers.set(kind, layer);
      for (const one of on) lines.push({ from: own, to: plateKey(one.kind, one.id), proof: one.proof });
      const fresh = on.filter((one) => !placed.has(plateKey(one.kind, one.id)));
      const key = fresh
        .map((one) => plateKey(one.kind, one.id))
        .sort()
        .join('\n');
      if (fresh.length > 0 && !layer.has(key)) {
        for (const one of fresh) placed.add(plateKey(one.kind, one.id));
        layer.set(key, {
          words: fresh.length === on.length ? bracketWords(1, on.length) : '',
          plates: fresh.map((one) => ({
            key: plateKey(one.kind, one.id),
            kind: one.kind,
            id: one.id,
            name: one.name,
            note: '',
            isAlone: facts.isAlone(one.kind, one.id),
          })),
        });
      }
      // machines rest on hypervisors, and those hang on switches; switches rest on more than anybody looks at here
      if (kind === 'machine' || kind === 'hypervisor')
        waiting.push(...on.map(({ kind: own, id, name }) => ({ kind: own, id, name })));
    }
  }
  return order.flatMap((kind) => {
    const brackets = [...(layers.get(kind)?.values() ?? [])];
    return brackets.length > 0 ? [{ title: titles[kind], brackets }] : [];
  });
}

function distinct(lines: readonly StrataLine[]): StrataLine[] {
  const found = new Map<string, StrataLine>();
  for (const line of lines) {
    const key = `${line.from}\n${line.to}`;
    const known = found.get(key);
    if (!known) found.set(key, { ...line });
    else if (!known.proof.split('; ').includes(line.proof)) known.proof += `; ${line.proof}`;
  }
  return [...found.values()];
}
