import { describe, expect, test } from '@jest/globals';
import type { HostNetworkFacts, PortFacts } from '../estate/facts';
import { hostLadder, type LadderInput, type LadderPlug } from './hostLadder';

const port = (name: string, more: Partial<PortFacts> = {}): PortFacts => ({
  index: 1,
  name,
  alias: '',
  description: '',
  type: 'ethernet',
  physical: true,
  admin: 'up',
  oper: 'up',
  speedBps: 1e10,
  duplex: 'full',
  mtu: 1500,
  mac: `02:00:00:00:00:0${name.slice(-1)}`,
  vlan: 70,
  taggedVlans: [10, 20],
  addresses: [],
  lag: null,
  stp: null,
  poe: null,
  ...more,
});
const plug = (device: string, at: string, more: Partial<PortFacts> = {}, units = 1): LadderPlug => ({
  deviceId: Number(device.slice(-1)),
  device,
  port: at,
  confidence: 'concluded',
  facts: port(at, more),
  units,
});
const network = (
  more: Partial<HostNetworkFacts['switches'][number]> = {},
  adapters: Partial<HostNetworkFacts['adapters'][number]>[] = [{}, {}],
): HostNetworkFacts => ({
  host: 'sgh-srv-04',
  adapters: adapters.map((adapter, at) => ({ name: `eth${at}`, mac: null, speedBps: 1e10, up: true, ...adapter })),
  switches: [
    {
      name: 'vswitch0',
      uplinks: ['eth0', 'eth1'],
      teaming: 'active-standby',
      groups: [
        { name: 'OPS', vlan: 10 },
        { name: 'TICKET', vlan: 20 },
      ],
      ...more,
    },
  ],
});
const machine = (name: string, group: string) => ({
  name,
  state: 'running' as const,
  adapters: [{ mac: null, port: 'eth0 + eth1', network: group, virtualSwitch: 'vswitch0' }],
});
const ladder = (plugs: Record<string, LadderPlug>, more: Partial<LadderInput> = {}) =>
  hostLadder({
    host: 'sgh-srv-04',
    key: '4',
    hostId: 4,
    ports: [],
    network: network(),
    machines: [machine('vm-pis-2', 'OPS'), machine('vm-depot-1', 'TICKET')],
    plugOf: (name) => plugs[name] ?? null,
    ...more,
  });
const words = (...given: Parameters<typeof ladder>) => ladder(...given).findings.map((finding) => finding.words);

describe('from a machine to the port of a switch', () => {
  test('each rung is told, and a host that is right has no findings', () => {
    const { machines, switches, adapters, findings } = ladder({ eth0: plug('acc-1', '8'), eth1: plug('acc-2', '16') });
    expect(machines).toEqual([
      {
        name: 'vm-depot-1',
        state: 'running',
        adapters: [{ mac: null, switch: 'vswitch0', group: 'TICKET', vlan: 20 }],
      },
      { name: 'vm-pis-2', state: 'running', adapters: [{ mac: null, switch: 'vswitch0', group: 'OPS', vlan: 10 }] },
    ]);
    expect(switches.map(({ name, uplinks }) => [name, uplinks])).toEqual([['vswitch0', ['eth0', 'eth1']]]);
    expect(adapters.map(({ name, team, plug: at }) => [name, team, at?.device])).toEqual([
      ['eth0', 'vswitch0', 'acc-1'],
      ['eth1', 'vswitch0', 'acc-2'],
    ]);
    expect(findings).toEqual([]);
  });
  test('without a manager, the ports that the host names for its machines stand for the switch, and bundles for teams', () => {
    const { switches, adapters } = ladder(
      {},
      {
        network: null,
        ports: [
          port('eth0', { lag: 'bond0' }),
          port('eth1', { lag: 'bond0' }),
          port('eth2'),
          port('lo', { type: 'loopback', physical: false }),
          port('mgmt0'),
        ],
        machines: [
          { name: 'vm-1', state: 'off', adapters: [{ mac: null, port: 'eth2', network: null }] },
          { name: 'vm-2', state: 'off', adapters: [{ mac: null, port: 'br7', network: null }] },
        ],
      },
    );
    expect(switches.map(({ name, teaming, uplinks }) => [name, teaming, uplinks])).toEqual([
      ['bond0', 'lacp', ['eth0', 'eth1']],
      ['eth2', 'other', ['eth2']],
      ['br7', 'other', []],
    ]);
    expect(adapters.map(({ name }) => name)).toEqual(['eth0', 'eth1', 'eth2']);
  });
});

describe('findings', () => {
  const [one, two] = [plug('acc-1', '8'), plug('acc-2', '16')];
  test('both uplinks on one switch, unless it is a stack', () => {
    expect(words({ eth0: plug('acc-2', '8'), eth1: two })).toEqual([
      'both uplinks of vswitch0 end on acc-2 (eth0 on 8 and eth1 on 16): while it restarts 2 machines are cut off',
    ]);
    expect(
      words(
        { eth0: plug('acc-2', '8'), eth1: two },
        { machines: [{ ...machine('vm-test-1', 'OPS'), state: 'off' }] },
      )[0],
    ).toMatch(/while it restarts the host is cut off$/);
    expect(words({ eth0: plug('acc-2', '8', {}, 2), eth1: plug('acc-2', '16', {}, 2) })).toEqual([]);
    expect(words({ eth0: plug('acc-2', '8') })).toEqual([]);
  });
  test('a VLAN that a port of a team lacks, as far as a machine needs it', () => {
    const without = plug('acc-2', '15', { taggedVlans: [10] });
    expect(words({ eth0: one, eth1: without })).toEqual([
      'acc-2 15 does not carry VLAN 20 (TICKET): vm-depot-1 is cut off when eth1 is the way',
    ]);
    expect(ladder({ eth0: one, eth1: without }).findings[0]?.adapters).toEqual(['eth1']);
    expect(words({ eth0: one, eth1: without }, { machines: [machine('vm-pis-2', 'OPS')] })).toEqual([]);
    expect(words({ eth0: one, eth1: { ...without, facts: undefined } })).toEqual([]);
  });
  test('uplinks of different speeds, and one without a link', () => {
    expect(words({ eth0: one, eth1: two }, { network: network({}, [{}, { speedBps: 1e9 }]) })).toEqual([
      'the uplinks of vswitch0 have different speeds: eth0 10G and eth1 1G',
    ]);
    expect(words({ eth0: one }, { network: network({}, [{}, { up: false, speedBps: null }]) })).toEqual([
      'eth1 of vswitch0 has no link: its other uplink has no spare',
    ]);
  });
  test('an adapter that has a cable and does nothing', () => {
    const three = network({}, [{}, {}, {}]);
    expect(words({ eth0: one, eth1: two, eth2: plug('acc-1', '9') }, { network: three })).toEqual([
      'eth2 is plugged into acc-1 9 and nothing uses it',
    ]);
    expect(
      words(
        { eth0: one, eth1: two, eth2: plug('acc-1', '9') },
        { network: three, ports: [port('eth2', { addresses: ['10.72.1.14'] })] },
      ),
    ).toEqual([]);
  });
  test('an aggregate that only one end knows of, or of which the other end makes two', () => {
    const lacp = { network: network({ teaming: 'lacp' }) };
    expect(words({ eth0: one, eth1: two }, lacp)).toEqual([
      'vswitch0 is an aggregate, acc-1 8 and acc-2 16 are in none',
    ]);
    expect(words({ eth0: plug('acc-1', '8', { lag: 'agg3' }), eth1: two })).toEqual([
      'acc-1 8 is a member of agg3, but vswitch0 uses its uplinks one by one',
    ]);
    expect(
      words({ eth0: plug('acc-1', '8', { lag: 'agg3' }, 2), eth1: plug('acc-1', '9', { lag: 'agg4' }, 2) }, lacp),
    ).toEqual(['vswitch0 is one aggregate, its uplinks are in several of acc-1: 8 in agg3 and 9 in agg4']);
    expect(
      words({ eth0: plug('acc-1', '8', { lag: 'agg3' }), eth1: plug('acc-2', '9', { lag: 'agg7' }) }, lacp),
    ).toEqual([]);
  });
});
