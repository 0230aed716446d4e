import { describe, expect, test } from '@jest/globals';
import { generateNetwork, usualPlan, type NetworkPlan } from '../../../bench/networks/network';
import { listenAgain } from '../../../bench/networks/listenAgain';
import { scorePlacement } from '../../../bench/networks/score';
import type { DeviceFacts, NeighbourFacts, PortFacts } from '../estate/facts';
import { conclude } from '../topology/conclude';
import { macNumber } from '../values/mac';
import { heardTables } from './heardTables';
import type { AttachmentFacts } from './placement';
import type { SightedDevice } from './heardTables';

type Row = [mac: string, port: string, vlan?: number];
const own = (id: number) => `02:4b:45:00:00:${id.toString(16).padStart(2, '0')}`;
const guest = (number: number) => `02:43:41:00:00:${number.toString(16).padStart(2, '0')}`;
const port = (name: string, more: Partial<PortFacts> = {}): PortFacts => ({
  index: 1,
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
  mac: null,
  vlan: 10,
  taggedVlans: [],
  addresses: [],
  lag: null,
  stp: null,
  poe: null,
  ...more,
});
/** A switch with ports 1 to 4 that are up in VLAN 10, a trunk called `up`, and what it hears. */
function sw(id: number, rows: Row[], more: Partial<SightedDevice> = {}): SightedDevice {
  return {
    id,
    answered: true,
    neighbours: [],
    ports: ['1', '2', '3', '4'].map((name) => port(name)).concat(port('up', { vlan: null, taggedVlans: [10] })),
    device: {
      name: `sw-${id}`,
      role: 'switch',
      address: `10.72.0.${id}`,
      addresses: [],
      units: [],
      bridgeAddress: own(id),
    } as unknown as DeviceFacts,
    heard: heardTables({ forwarding: rows.map(([mac, at, vlan = 10]) => ({ mac, port: at, vlan })), addresses: [] }),
    ...more,
  };
}
const neighbour = (at: string, more: Partial<NeighbourFacts>): NeighbourFacts => ({
  port: at,
  chassisId: '',
  chassisIdSubtype: 'macAddress',
  portId: '',
  portIdSubtype: 'macAddress',
  portDescription: '',
  systemName: '',
  systemDescription: '',
  capabilities: [],
  managementAddresses: [],
  ...more,
});
function placed(
  devices: SightedDevice[],
  mac: string,
  earlier?: { deviceId: number; port: string },
): Partial<AttachmentFacts> | undefined {
  const found = [
    ...conclude(devices, (number) => (earlier && number === macNumber(mac) ? earlier : null)).attachments,
  ].find((row) => row.mac === mac);
  return (
    found && {
      deviceId: found.deviceId,
      port: found.port,
      via: found.via,
      ...(found.basis && { basis: found.basis }),
      ...(found.older && { older: found.older }),
      ...(found.among && { among: found.among }),
    }
  );
}
/** Three switches in a row, 2 in the middle; each hears the others on the trunk between. `ends` are rows of the two outer ones, by who they are. */
const row = (one: Row[], two: Row[], three: Row[], more: Partial<SightedDevice> = {}): SightedDevice[] => [
  sw(1, [[own(2), 'up', 70], [own(3), 'up', 70], ...one]),
  sw(2, [[own(1), '1', 70], [own(3), '2', 70], ...two]),
  sw(3, [[own(1), 'up', 70], [own(2), 'up', 70], ...three], more),
];

describe('where a machine hangs', () => {
  test('that was moved is where all others look for it; the row of where it was is told as older', () => {
    const moved = row([[guest(1), '3']], [[guest(1), '2']], [[guest(1), '4']]);
    expect(placed(moved, guest(1))).toEqual({
      deviceId: 3,
      port: '4',
      via: 'direct',
      older: [{ deviceId: 1, port: '3' }],
    });
    const back = row([[guest(1), '3']], [[guest(1), '1']], [[guest(1), '4']]);
    expect(placed(back, guest(1))).toEqual({
      deviceId: 1,
      port: '3',
      via: 'direct',
      older: [{ deviceId: 3, port: '4' }],
    });
  });
  test('a port that leads to a switch nobody told of, and that is not heard, is found by what hangs there', () => {
    const quiet = [
      sw(1, [
        [guest(1), '2'],
        [guest(2), '2'],
        [guest(3), '2'],
        [guest(4), '2'],
      ]),
      sw(2, [
        [guest(1), '1'],
        [guest(2), '2'],
        [guest(3), '3'],
      ]),
    ];
    expect(conclude(quiet).portKinds.get(1)?.get('2')).toBe('uplink');
    expect(placed(quiet, guest(3))).toMatchObject({ deviceId: 2, port: '3' });
    // its own switch does not list the fourth: the only port that hears nothing is where it hangs
    expect(
      placed(
        [
          quiet[0] as SightedDevice,
          { ...(quiet[1] as SightedDevice), ports: ['1', '2', '3', '4'].map((name) => port(name)) },
        ],
        guest(4),
      ),
    ).toMatchObject({ deviceId: 2, port: '4', basis: 'remaining' });
  });
  test('that its own switch does not list is on the only port left in its VLAN; of two nothing is said', () => {
    const heard: Row[] = [
      [guest(9), '2'],
      [guest(8), '3'],
      [guest(7), '4'],
    ];
    expect(
      placed(row([[guest(1), 'up']], [[guest(1), '2'], ...heard.map(([mac]): Row => [mac, '2'])], heard), guest(1)),
    ).toEqual({ deviceId: 3, port: '1', via: 'direct', basis: 'remaining' });
    expect(placed(row([[guest(1), 'up']], [[guest(1), '2']], heard.slice(1)), guest(1))).toEqual({
      deviceId: null,
      port: null,
      via: null,
      among: { deviceId: 3, ports: ['1', '2'] },
    });
    // a machine in another VLAN may be on none of them
    expect(placed(row([[guest(1), 'up', 20]], [[guest(1), '2', 20]], heard), guest(1))).toMatchObject({
      port: null,
      among: { deviceId: 3, ports: [] },
    });
  });
  test('that its own switch does not list is where it was before, as long as that port is up and leads nowhere', () => {
    const lost = (more: Partial<SightedDevice> = {}) => row([[guest(1), 'up']], [[guest(1), '2']], [], more);
    expect(placed(lost(), guest(1), { deviceId: 3, port: '2' })).toEqual({
      deviceId: 3,
      port: '2',
      via: 'direct',
      basis: 'remembered',
    });
    // somebody else is on it alone
    expect(
      placed(
        row(
          [[guest(1), 'up']],
          [
            [guest(1), '2'],
            [guest(2), '2'],
          ],
          [[guest(2), '2']],
        ),
        guest(1),
        { deviceId: 3, port: '2' },
      )?.port,
    ).toBeNull();
    // everybody looks elsewhere, the port is down, or it leads to another switch
    expect(placed(lost(), guest(1), { deviceId: 1, port: '2' })?.port).toBeNull();
    expect(
      placed(lost({ ports: [port('2', { oper: 'down' }), port('up')] }), guest(1), { deviceId: 3, port: '2' })?.port,
    ).toBeNull();
    expect(placed(lost(), guest(1), { deviceId: 3, port: 'up' })?.port).toBeNull();
  });
  test('that reports itself as a neighbour is where it reports, though no table lists it there', () => {
    const phone = row([[guest(1), 'up', 50]], [[guest(1), '2', 50]], [], {
      neighbours: [neighbour('2', { chassisId: guest(1), capabilities: ['bridge', 'telephone'] })],
    });
    expect(placed(phone, guest(1))).toMatchObject({ deviceId: 3, port: '2', basis: 'reported' });
  });
  test('that is virtual is where its host hangs, by the word of the host or of a manager who names it', () => {
    const machine = (host: string, state: 'running' | 'off' = 'running') => [
      { host, state, adapters: [{ mac: guest(1), port: null, network: null }] },
    ];
    const host = (machines: ReturnType<typeof machine>): SightedDevice => ({
      ...sw(4, []),
      ports: [port('eth0', { mac: guest(9) })],
      device: {
        name: 'hv-4',
        role: 'hypervisor',
        address: '10.72.0.4',
        addresses: [],
        units: [],
        bridgeAddress: null,
      } as unknown as DeviceFacts,
      machines,
    });
    const manager = (machines: ReturnType<typeof machine>): SightedDevice => ({
      ...host(machines),
      id: 5,
      ports: [],
      device: {
        name: 'manager',
        role: 'host',
        address: '10.72.0.5',
        addresses: [],
        units: [],
        bridgeAddress: null,
      } as unknown as DeviceFacts,
    });
    const lost = row(
      [
        [guest(1), 'up'],
        [guest(9), 'up'],
      ],
      [
        [guest(1), '2'],
        [guest(9), '2'],
      ],
      [[guest(9), '3']],
    );
    const hosted = { deviceId: 3, port: '3', via: 'virtual', basis: 'hosted' };
    expect(placed([...lost, host(machine(''))], guest(1))).toEqual(hosted);
    expect(placed([...lost, host([]), manager(machine('hv-4.example'))], guest(1))).toEqual(hosted);
    // one that does not run, or whose frames come from elsewhere, is not there
    expect(placed([...lost, host(machine('', 'off'))], guest(1))?.port).toBeNull();
    expect(
      placed(
        [
          ...row(
            [
              [guest(1), '2'],
              [guest(9), 'up'],
            ],
            [
              [guest(1), '1'],
              [guest(9), '2'],
            ],
            [[guest(9), '3']],
          ),
          host(machine('')),
        ],
        guest(1),
      ),
    ).toMatchObject({ deviceId: 1, port: '2' });
  });
  test('behind a bridge that nobody asked is at the port that leads there', () => {
    const unasked = sw(
      1,
      [
        [guest(1), '2'],
        [guest(2), '2'],
      ],
      { neighbours: [neighbour('2', { chassisId: own(9), systemName: 'somebody', capabilities: ['bridge'] })] },
    );
    expect(conclude([unasked]).portKinds.get(1)?.get('2')).toBe('uplink');
    expect(placed([unasked], guest(1))).toMatchObject({ deviceId: 1, port: '2', via: 'unmanaged' });
    // with a switch that was asked behind it, which looks back
    expect(
      placed(
        [
          sw(1, [
            [own(3), '2', 70],
            [guest(1), '2'],
          ]),
          sw(3, [
            [own(1), 'up', 70],
            [guest(1), 'up'],
          ]),
        ],
        guest(1),
      ),
    ).toMatchObject({ basis: 'segment', via: 'unmanaged' });
  });
  test('another bridge that is designated makes an uplink; an address of a virtual router is no machine', () => {
    const root = port('3', { stp: { state: 'forwarding', role: 'root', designatedBridge: own(9) } });
    const known = sw(
      1,
      [
        [guest(1), '3'],
        ['00:00:5e:00:01:0a', '2'],
      ],
      { ports: [root, port('2')] },
    );
    expect(conclude([known]).portKinds.get(1)?.get('3')).toBe('uplink');
    expect([placed([known], guest(1)), placed([known], '00:00:5e:00:01:0a')]).toEqual([
      { deviceId: 1, port: '3', via: 'unmanaged', basis: 'segment' },
      undefined,
    ]);
  });
});

describe('on networks of which everything is known', () => {
  const look = (more: Partial<NetworkPlan>, earlier: Map<number, { deviceId: number; port: string }> = new Map()) => {
    const network = generateNetwork({ ...usualPlan, sites: 3, ...more });
    const found = [...conclude(network.devices, (mac) => earlier.get(mac) ?? null).attachments];
    return { found, score: scorePlacement(network, found), devices: network.devices };
  };
  const kept = (found: AttachmentFacts[]) =>
    new Map(
      found.flatMap(({ mac, deviceId, port: at }) =>
        deviceId === null || at === null ? [] : [[macNumber(mac) ?? 0, { deviceId, port: at }] as const],
      ),
    );
  test.each([
    [1, 0.7],
    [2, 0.7],
    [3, 0],
    [4, 1],
  ])(
    'network %i, LLDP of %f of all switches: nine rows of ten say nearly everything, and all of it when they are looked at twice',
    (seed, speaking) => {
      const first = look({ seed, speaking });
      expect(first.score.precision).toBeGreaterThanOrEqual(0.99);
      expect(first.score.recall).toBeGreaterThanOrEqual(0.88);
      const second = look({ seed, speaking, look: 2 }, kept(first.found));
      expect(second.score.precision).toBeGreaterThanOrEqual(0.99);
      expect(second.score.recall).toBeGreaterThanOrEqual(0.96);
      // those that moved since are not where they were
      expect(second.score.byKind.moved?.right).toBeGreaterThan(0.8 * (second.score.byKind.moved?.heard ?? Infinity));
    },
  );
  test.each([
    [1, 0.7],
    [2, 0.7],
    [3, 0],
  ])(
    'network %i, LLDP of %f of all switches: where switches are asked once more for what they did not list, the first look says as much',
    (seed, speaking) => {
      const plan = { ...usualPlan, sites: 3, seed, speaking };
      const network = generateNetwork(plan);
      const { devices, asked, heard } = listenAgain(plan, network, conclude(network.devices).attachments);
      expect(asked).toBeGreaterThan(heard);
      const score = scorePlacement(network, conclude(devices).attachments);
      expect(score.precision).toBeGreaterThanOrEqual(0.99);
      expect(score.recall).toBeGreaterThanOrEqual(0.96);
    },
  );
  test('the tables of each device, which may lie in a file, are asked for once', () => {
    const asked = new Map<number, number>();
    const { devices } = look({ sites: 1 });
    const counted = devices.map((known) => ({
      ...known,
      get heard() {
        asked.set(known.id, (asked.get(known.id) ?? 0) + 1);
        return known.heard;
      },
    }));
    expect([...conclude(counted).attachments].length).toBeGreaterThan(100);
    expect([asked.size, new Set(asked.values())]).toEqual([devices.length, new Set([1])]);
  });
  test('whole tables leave next to nothing open, and their order says nothing', () => {
    const { found, score, devices } = look({ rows: 1, speaking: 1 });
    expect(score.precision).toBeGreaterThanOrEqual(0.998);
    expect(score.recall).toBeGreaterThanOrEqual(0.99);
    expect([...conclude([...devices].reverse()).attachments]).toEqual(found);
  });
});
