import { describe, expect, test } from '@jest/globals';
import { learnForwarding } from './forwarding';
import type { Cable, Guest, SimDevice, SimEstate, SimPort } from './model';
import { ostermere } from './estate';

const port = (index: number, name: string, more: Partial<SimPort> = {}): SimPort => ({
  index,
  name,
  description: '',
  alias: '',
  ifType: 6,
  speedMbps: 1000,
  mac: `02:00:00:00:00:${index.toString(16).padStart(2, '0')}`,
  admin: 'up',
  oper: 'up',
  duplex: 'full',
  mtu: 1500,
  sinceSeconds: 0,
  pvid: 1,
  tagged: [],
  addresses: [],
  bridged: true,
  ...more,
});
const bridge = (name: string, ports: SimPort[]): SimDevice => ({
  name,
  address: '10.72.0.1',
  maker: 'Kestrane',
  modelNumber: 1,
  model: '',
  description: '',
  location: '',
  services: 2,
  mac: `02:4b:45:00:00:0${name}`,
  release: '',
  ports,
  modules: [],
  bridge: true,
  lldp: true,
  access: 'v3',
  uptimeSeconds: 0,
});
const cable = (a: string, aPort: string, b: string, bPort: string): Cable => ({
  a: { device: a, port: aPort },
  b: { device: b, port: bPort },
});
const guest: Guest = { name: 'cam', mac: '02:43:41:00:00:01', address: null, vlan: 30, device: '1', port: '3' };
const heard = (estate: SimEstate, mac = guest.mac) =>
  Object.fromEntries(
    [...learnForwarding(estate)].map(([name, rows]) => [
      name,
      rows.filter((row) => row.mac === mac).map((row) => row.port),
    ]),
  );

describe('what bridges learn', () => {
  const line = () => [
    bridge('1', [port(1, '1'), port(2, '2'), port(3, '3')]),
    bridge('2', [port(1, '1'), port(2, '2')]),
    bridge('3', [port(1, '1'), port(2, '2')]),
  ];
  test('a machine is heard on the port that leads to it, everywhere', () => {
    expect(
      heard({ devices: line(), cables: [cable('1', '1', '2', '1'), cable('2', '2', '3', '1')], guests: [guest] }),
    ).toEqual({ 1: ['3'], 2: ['1'], 3: ['1'] });
  });
  test('not across a blocked port nor one that is down', () => {
    for (const more of [{ blocked: true }, { oper: 'down' as const }]) {
      const devices = line();
      Object.assign(devices[1]?.ports[1] ?? {}, more);
      expect(
        heard({ devices, cables: [cable('1', '1', '2', '1'), cable('2', '2', '3', '1')], guests: [guest] }),
      ).toEqual({ 1: ['3'], 2: ['1'], 3: [] });
    }
  });
  test('a ring with one blocked port is heard one way round', () => {
    const devices = line();
    Object.assign(devices[2]?.ports[1] ?? {}, { blocked: true });
    expect(
      heard({
        devices,
        cables: [cable('1', '1', '2', '1'), cable('2', '2', '3', '1'), cable('3', '2', '1', '2')],
        guests: [guest],
      }),
    ).toEqual({ 1: ['3'], 2: ['1'], 3: ['1'] });
  });
  test('over an aggregate the aggregate hears, not its member', () => {
    const devices = [
      bridge('1', [port(1, '1'), port(3, '3')]),
      bridge('2', [port(1, '1', { aggregate: 9 }), port(9, 'agg1')]),
    ];
    expect(heard({ devices, cables: [cable('1', '1', '2', '1')], guests: [guest] })).toEqual({ 1: ['3'], 2: ['agg1'] });
  });
});

describe('the sample’s forwarding', () => {
  test.each([1, 4, 5, 8])(
    'at step %i every machine behind an answering switch is heard once by it, on its own port',
    (step) => {
      const estate = ostermere(step);
      const learned = learnForwarding(estate);
      for (const { mac, device, port: own } of estate.guests) {
        const rows = learned.get(device);
        if (rows) expect([mac, rows.filter((row) => row.mac === mac).map((row) => row.port)]).toEqual([mac, [own]]);
      }
    },
  );
  test('the core hears every stop, before and after the ring was cut', () => {
    for (const step of [4, 5]) {
      const core = learnForwarding(ostermere(step)).get('sgh-core-1') ?? [];
      const macs = new Set(core.map(({ mac }) => mac));
      // what hangs on the fabric is routed before it gets here
      for (const { mac, name } of ostermere(step).guests.filter(({ device }) => !device.startsWith('sgh-leaf-')))
        expect([name, macs.has(mac)]).toEqual([name, true]);
    }
  });
});
