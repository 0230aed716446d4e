import type { Confidence } from './links';
import type { HostNetworkFacts, MachineFacts, PortFacts, Teaming } from '../estate/facts';
import { formatSpeed } from '../values/quantity';
import { compareNaturally } from '../values/naturalOrder';

/** The port of a switch into which an adapter is plugged. */
export interface LadderPlug {
  deviceId: number;
  device: string;
  port: string;
  confidence: Confidence;
  /** as the switch has it; undefined where it told none */
  facts: PortFacts | undefined;
  /** of how many chassis the switch is made */
  units: number;
}

export interface LadderAdapter {
  name: string;
  mac: string | null;
  speedBps: number | null;
  up: boolean;
  /** the virtual switch or the bundle it is an uplink of */
  team: string | null;
  plug: LadderPlug | null;
}

export interface LadderSwitch {
  name: string;
  teaming: Teaming;
  groups: { name: string; vlan: number | null }[];
  uplinks: string[];
}

export interface LadderMachine {
  name: string;
  state: MachineFacts['state'];
  adapters: { mac: string | null; switch: string; group: string; vlan: number | null }[];
}

export const ladderFindingKinds = ['oneSwitch', 'vlanMissing', 'speeds', 'unused', 'noLink', 'partner'] as const;
export interface LadderFinding {
  kind: (typeof ladderFindingKinds)[number];
  /** the virtual switch, bundle or adapter it is about */
  part: string;
  /** the adapters on whose way it lies */
  adapters: string[];
  words: string;
  remedy: string;
}

/** From the virtual machines of a host down to the ports of switches. */
export interface HostLadder {
  /** what it is told apart by */
  key: string;
  host: string;
  /** its number where it is inventoried itself */
  hostId: number | null;
  machines: LadderMachine[];
  switches: LadderSwitch[];
  adapters: LadderAdapter[];
  findings: LadderFinding[];
}

export interface LadderInput {
  key: string;
  host: string;
  hostId: number | null;
  /** its own ports; empty where it does not answer itself */
  ports: readonly PortFacts[];
  /** what a manager tells; null where there is none */
  network: HostNetworkFacts | null;
  machines: readonly Pick<MachineFacts, 'name' | 'state' | 'adapters'>[];
  /** where an adapter is plugged in, by its name and its MAC */
  plugOf: (adapter: string, mac: string | null) => LadderPlug | null;
}

/**
 * Machine, virtual adapter, virtual switch, physical adapter, switch port: put together of what the host tells (VM-MIB, RFC 7666; IF-MIB; bundles by IEEE 802.1AX), what a manager of hosts tells, and where its adapters are plugged
 * in by the links that are known. And what is wrong on the way.
 */
export function hostLadder(input: LadderInput): HostLadder {
  const switches = switchesOf(input);
  const adapters = adaptersOf(input, switches);
  const machines = input.machines
    .map((machine): LadderMachine => ({
      name: machine.name,
      state: machine.state,
      adapters: machine.adapters.map((adapter) => {
        const on = switchOf(adapter);
        const group = adapter.network ?? '';
        return {
          mac: adapter.mac,
          switch: on,
          group,
          vlan: switches.find(({ name }) => name === on)?.groups.find(({ name }) => name === group)?.vlan ?? null,
        };
      }),
    }))
    .sort((x, y) => compareNaturally(x.name, y.name));
  const ladder: HostLadder = {
    key: input.key,
    host: input.host,
    hostId: input.hostId,
    machines,
    switches,
    adapters,
    findings: [],
  };
  ladder.findings = [...switches.flatMap((own) => teamFindings(own, ladder)), ...unusedAdapters(ladder, input.ports)];
  return ladder;
}

/** A machine whose switch nobody names is plugged into the port that its host names. */
const switchOf = ({ virtualSwitch, port }: MachineFacts['adapters'][number]): string => virtualSwitch ?? port ?? '';

function switchesOf({ network, ports, machines }: LadderInput): LadderSwitch[] {
  const found = new Map<string, LadderSwitch>(
    (network?.switches ?? []).map((own) => [own.name, { ...own, uplinks: [...own.uplinks] }]),
  );
  const bundles = [...new Set(ports.flatMap(({ lag }) => lag ?? []))].sort(compareNaturally);
  const membersOf = (bundle: string) => ports.filter(({ lag }) => lag === bundle).map(({ name }) => name);
  // an uplink that is a bundle of the host stands for its members
  for (const own of found.values()) {
    if (own.uplinks.some((uplink) => bundles.includes(uplink)))
      Object.assign(own, {
        teaming: 'lacp',
        uplinks: own.uplinks.flatMap((uplink) => (bundles.includes(uplink) ? membersOf(uplink) : [uplink])),
      });
  }
  const used = new Set([...found.values()].flatMap(({ uplinks }) => uplinks));
  for (const bundle of bundles)
    if (!membersOf(bundle).some((name) => used.has(name)))
      found.set(bundle, { name: bundle, teaming: 'lacp', groups: [], uplinks: membersOf(bundle) });
  if (network) return [...found.values()];
  for (const adapter of machines.flatMap((machine) => machine.adapters)) {
    const name = switchOf(adapter);
    if (name && !found.has(name))
      found.set(name, {
        name,
        teaming: 'other',
        groups: [],
        uplinks: ports.some((port) => port.name === name && port.physical) ? [name] : [],
      });
  }
  return [...found.values()];
}

/** What leads to the management of a host carries none of its machines. */
const ofManagement = /^(mgmt|management|oob)/i;

function adaptersOf({ ports, network, plugOf }: LadderInput, switches: readonly LadderSwitch[]): LadderAdapter[] {
  const told = new Map((network?.adapters ?? []).map((adapter) => [adapter.name, adapter]));
  for (const { name, physical, type, mac, speedBps, oper } of ports)
    if (physical && type !== 'loopback' && !ofManagement.test(name) && mac && !told.has(name))
      told.set(name, { name, mac, speedBps: oper === 'up' ? speedBps : null, up: oper === 'up' });
  for (const name of switches.flatMap(({ uplinks }) => uplinks))
    if (!told.has(name)) told.set(name, { name, mac: null, speedBps: null, up: false });
  return [...told.values()]
    .map((adapter) => ({
      ...adapter,
      team: switches.find(({ uplinks }) => uplinks.includes(adapter.name))?.name ?? null,
      plug: plugOf(adapter.name, adapter.mac),
    }))
    .sort((x, y) => compareNaturally(x.name, y.name));
}

const carries = (port: PortFacts, vlan: number): boolean => port.vlan === vlan || port.taggedVlans.includes(vlan);
const listed = (names: string[]): string =>
  names.length < 3 ? names.join(' and ') : `${names.slice(0, -1).join(', ')} and ${names.at(-1) ?? ''}`;
const place = ({ device, port }: LadderPlug): string => `${device} ${port}`;

function teamFindings(own: LadderSwitch, { adapters, machines }: HostLadder): LadderFinding[] {
  const members = adapters.filter(({ name }) => own.uplinks.includes(name));
  const plugged = members.flatMap(({ name, plug }) => (plug ? [{ name, plug }] : []));
  const hanging = machines.filter((machine) => machine.adapters.some((adapter) => adapter.switch === own.name));
  const findings: LadderFinding[] = [];
  const find = (kind: LadderFinding['kind'], concerned: string[], words: string, remedy: string) =>
    findings.push({ kind, part: own.name, adapters: concerned, words, remedy });
  const all = members.map(({ name }) => name);
  const [first, second] = plugged;
  if (
    first &&
    second &&
    members.length === plugged.length &&
    plugged.every(({ plug }) => plug.deviceId === first.plug.deviceId) &&
    first.plug.units < 2
  ) {
    const running = hanging.filter(({ state }) => state === 'running').length;
    const on = running > 0 ? `${running} ${running === 1 ? 'machine is' : 'machines are'}` : 'the host is';
    find(
      'oneSwitch',
      all,
      `${members.length === 2 ? 'both' : `all ${members.length}`} uplinks of ${own.name} end on ${first.plug.device} (${listed(plugged.map(({ name, plug }) => `${name} on ${plug.port}`))}): while it restarts ${on} cut off`,
      'Plug one of them into another switch.',
    );
  }
  const down = members.filter(({ up }) => !up);
  if (members.length > 1 && down.length > 0)
    find(
      'noLink',
      down.map(({ name }) => name),
      `${listed(down.map(({ name }) => name))} of ${own.name} ${down.length === 1 ? 'has' : 'have'} no link${down.length === members.length - 1 ? ': its other uplink has no spare' : ''}`,
      'Look at the cable and at the port of the switch.',
    );
  const speeds = new Set(members.flatMap(({ up, speedBps }) => (up && speedBps ? [speedBps] : [])));
  if (speeds.size > 1)
    find(
      'speeds',
      all,
      `the uplinks of ${own.name} have different speeds: ${listed(members.flatMap(({ name, up, speedBps }) => (up && speedBps ? [`${name} ${formatSpeed(speedBps)}`] : [])))}`,
      'Give both the same: when the faster one is lost the other cannot carry it all.',
    );
  for (const { name, plug } of plugged) {
    if (!plug.facts) continue;
    for (const group of own.groups) {
      const { vlan } = group;
      const needing = hanging.filter((machine) =>
        machine.adapters.some((adapter) => adapter.switch === own.name && adapter.group === group.name),
      );
      if (!vlan || needing.length === 0 || carries(plug.facts, vlan)) continue;
      find(
        'vlanMissing',
        [name],
        `${place(plug)} does not carry VLAN ${vlan} (${group.name}): ${listed(needing.map((machine) => machine.name))} ${needing.length === 1 ? 'is' : 'are'} cut off when ${name} is the way`,
        `Add VLAN ${vlan} to the port of the switch.`,
      );
    }
  }
  findings.push(...partnerFindings(own, plugged));
  return findings;
}

/** An aggregate has two ends: both must know of it, or neither. */
function partnerFindings(own: LadderSwitch, plugged: { name: string; plug: LadderPlug }[]): LadderFinding[] {
  const known = plugged.flatMap(({ name, plug }) => (plug.facts ? [{ name, plug, lag: plug.facts.lag }] : []));
  const finding = (concerned: typeof known, words: string, remedy: string): LadderFinding[] => [
    { kind: 'partner', part: own.name, adapters: concerned.map(({ name }) => name), words, remedy },
  ];
  if (own.teaming === 'lacp' || own.teaming === 'aggregate') {
    if (plugged.length < 2) return [];
    const alone = known.filter(({ lag }) => lag === null);
    if (alone.length > 0)
      return finding(
        alone,
        `${own.name} is an aggregate, ${listed(alone.map(({ plug }) => place(plug)))} ${alone.length === 1 ? 'is' : 'are'} in none`,
        'Put the ports of the switch into one aggregate, or let the host use its uplinks one by one.',
      );
    const lags = new Map<number, Set<string>>();
    for (const { plug, lag } of known)
      lags.set(plug.deviceId, (lags.get(plug.deviceId) ?? new Set<string>()).add(lag ?? ''));
    const torn = known.find(({ plug }) => (lags.get(plug.deviceId)?.size ?? 0) > 1);
    return torn
      ? finding(
          known,
          `${own.name} is one aggregate, its uplinks are in several of ${torn.plug.device}: ${listed(known.map(({ plug, lag }) => `${plug.port} in ${lag ?? ''}`))}`,
          'Put the ports of the switch into one aggregate.',
        )
      : [];
  }
  const bundled = known.filter(({ lag }) => lag !== null);
  if (own.teaming === 'other' || bundled.length === 0) return [];
  return finding(
    bundled,
    `${listed(bundled.map(({ plug, lag }) => `${place(plug)} is a member of ${lag ?? ''}`))}, but ${own.name} uses its uplinks one by one`,
    'Take the port out of the aggregate, or make an aggregate of the uplinks at the host.',
  );
}

/** An adapter that has a cable and does nothing. */
function unusedAdapters({ adapters, switches }: HostLadder, ports: readonly PortFacts[]): LadderFinding[] {
  if (switches.length === 0) return [];
  return adapters.flatMap(({ name, up, team, plug }): LadderFinding[] => {
    const addressed = ports.some((port) => port.name === name && port.addresses.length > 0);
    if (!up || team !== null || !plug || addressed) return [];
    return [
      {
        kind: 'unused',
        part: name,
        adapters: [name],
        words: `${name} is plugged into ${place(plug)} and nothing uses it`,
        remedy: 'Make it an uplink, or free the port of the switch.',
      },
    ];
  });
}
