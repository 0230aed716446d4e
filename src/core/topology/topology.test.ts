import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DeviceFacts, NeighbourFacts, PortFacts, Role } from '../estate/facts';
import { heardTables } from '../switching/heardTables';
import type { SightedDevice } from '../switching/heardTables';
import { conclude } from './conclude';
import { DeviceIndex } from './deviceIndex';

const mac = (id: number, port = 0) =>
  `02:4b:45:00:${id.toString(16).padStart(2, '0')}:${port.toString(16).padStart(2, '0')}`;
const port = (id: number, at: number, more: Partial<PortFacts> = {}): PortFacts => ({
  index: at,
  name: String(at),
  alias: '',
  description: '',
  type: 'ethernet',
  physical: true,
  admin: 'up',
  oper: 'up',
  speedBps: 1e9,
  duplex: 'full',
  mtu: 1500,
  mac: mac(id, at),
  vlan: 10,
  taggedVlans: [],
  addresses: [],
  lag: null,
  stp: null,
  poe: null,
  ...more,
});
const hears = (at: string, other: number, otherPort: string, more: Partial<NeighbourFacts> = {}): NeighbourFacts => ({
  port: at,
  chassisId: mac(other),
  chassisIdSubtype: 'macAddress',
  portId: otherPort,
  portIdSubtype: 'interfaceName',
  portDescription: '',
  systemName: `sw-${other}`,
  systemDescription: '',
  capabilities: ['bridge'],
  managementAddresses: [],
  ...more,
});
function device(id: number, more: Partial<SightedDevice> & { role?: Role } = {}): SightedDevice {
  const { role = 'switch', ...rest } = more;
  return {
    id,
    ports: [1, 2, 3, 4].map((at) => port(id, at)),
    neighbours: [],
    heard: heardTables({ forwarding: [], addresses: [] }),
    answered: true,
    device: {
      name: `sw-${id}`,
      role,
      address: `10.72.0.${id}`,
      addresses: [],
      units: [],
      bridgeAddress: role === 'switch' ? mac(id) : null,
    } as unknown as DeviceFacts,
    ...rest,
  };
}
const fdb = (...rows: [string, string, number?][]) =>
  heardTables({
    forwarding: rows.map(([address, at, vlan = 10]) => ({ mac: address, port: at, vlan })),
    addresses: [],
  });

describe('links', () => {
  test('two reports that name each other are one confirmed link, one alone is a claim', () => {
    const { links } = conclude([
      device(1, { neighbours: [hears('1', 2, '3'), hears('2', 3, '1')] }),
      device(2, { neighbours: [hears('3', 1, '1')] }),
      device(3),
    ]);
    expect(
      links.map(({ a, b, confidence, issues }) => [a.device, a.port, b.device, b.port, confidence, issues.length]),
    ).toEqual([
      ['sw-1', '1', 'sw-2', '3', 'confirmed', 0],
      ['sw-1', '2', 'sw-3', '1', 'claimed', 0],
    ]);
  });
  test('a one-sided report is odd only if the other end speaks and answered', () => {
    const talks = [hears('4', 9, 'x')];
    const odd = (other: Partial<SightedDevice>) =>
      conclude([
        device(1, { neighbours: [hears('1', 2, '3')] }),
        device(2, { neighbours: talks, ...other }),
      ]).links[0]?.issues.map(({ kind }) => kind);
    expect(odd({})).toEqual(['oneSided']);
    expect(odd({ answered: false })).toEqual([]);
    expect(odd({ neighbours: [] })).toEqual([]);
  });
  test('ends that disagree are told with both values', () => {
    const { links } = conclude([
      device(1, {
        neighbours: [hears('1', 2, '1')],
        ports: [port(1, 1, { duplex: 'half', mtu: 9216, vlan: 70, taggedVlans: [10, 20] })],
      }),
      device(2, { neighbours: [hears('1', 1, '1')], ports: [port(2, 1, { taggedVlans: [10] })] }),
    ]);
    expect(links[0]?.issues.map(({ kind }) => kind)).toEqual(['duplex', 'mtu', 'nativeVlan', 'allowedVlans']);
    expect(links[0]?.issues[1]?.words).toBe('MTU differs: sw-1 1 has 9216, sw-2 1 has 1500');
  });
  test('the port id subtype decides how the other port is found', () => {
    const found = (portId: string, portIdSubtype: string) =>
      conclude([
        device(1, { neighbours: [hears('1', 2, portId, { portIdSubtype })] }),
        device(2, { ports: [port(2, 3, { alias: 'to the north' })] }),
      ]).links[0]?.b.port;
    expect([
      found(mac(2, 3), 'macAddress'),
      found('to the north', 'interfaceAlias'),
      found('3', 'local'),
      found('unheard', 'interfaceName'),
    ]).toEqual(['3', '3', '3', 'unheard']);
  });
  test('a server that speaks no LLDP is linked to where its MAC was placed', () => {
    const { links } = conclude([
      device(1, { heard: fdb([mac(5, 1), '4']) }),
      device(5, { role: 'server', ports: [port(5, 1, { name: 'eth0' })] }),
    ]);
    expect(links).toMatchObject([
      { a: { device: 'sw-1', port: '4' }, b: { device: 'sw-5', port: 'eth0' }, confidence: 'concluded' },
    ]);
  });
});

describe('placement', () => {
  const guest = '02:43:41:00:00:01';
  const place = (devices: SightedDevice[], address = guest) => {
    const found = [...conclude(devices).attachments].find((attachment) => attachment.mac === address);
    return found && `${found.deviceId}/${found.port} ${found.via}`;
  };
  test('an uplink never claims the machines behind it', () => {
    const core = device(1, { neighbours: [hears('1', 2, '4')], heard: fdb([guest, '1']) });
    expect(place([core, device(2, { neighbours: [hears('4', 1, '1')], heard: fdb([guest, '2']) })])).toBe('2/2 direct');
    // it hangs on the other one, which does not list it: on which port nobody says
    expect(place([core, device(2)])).toBe('null/null null');
  });
  test('without LLDP, a port that hears another switch is an uplink', () => {
    const { portKinds } = conclude([
      device(1, { heard: fdb([guest, '1'], [mac(2), '1']) }),
      device(2, { heard: fdb([guest, '2']) }),
    ]);
    expect([portKinds.get(1)?.get('1'), portKinds.get(2)?.get('2')]).toEqual(['uplink', 'edge']);
    expect(
      place([device(1, { heard: fdb([guest, '1'], [mac(2), '1']) }), device(2, { heard: fdb([guest, '2']) })]),
    ).toBe('2/2 direct');
  });
  test('an aggregate is an uplink if a member is', () => {
    const ports = [port(1, 1, { lag: 'agg' }), port(1, 9, { name: 'agg', type: 'lag', physical: false })];
    const { portKinds } = conclude([
      device(1, { ports, neighbours: [hears('1', 2, '1')], heard: fdb([guest, 'agg']) }),
      device(2),
    ]);
    expect(portKinds.get(1)?.get('agg')).toBe('uplink');
  });
  test('a phone with a computer behind it, and an unmanaged segment', () => {
    const phone = '02:43:41:00:00:0f';
    const neighbour = hears('3', 9, phone, {
      chassisId: phone,
      portIdSubtype: 'macAddress',
      systemName: 'phone',
      capabilities: ['bridge', 'telephone'],
    });
    const desk = [device(1, { neighbours: [neighbour], heard: fdb([phone, '3', 50], [guest, '3']) })];
    expect([place(desk, phone), place(desk)]).toEqual(['1/3 direct', '1/3 phone']);
    expect(
      place([device(1, { heard: fdb([guest, '3'], ['02:43:41:00:00:02', '3'], ['02:43:41:00:00:03', '3']) })]),
    ).toBe('1/3 unmanaged');
  });
  test('a MAC on two edge ports goes where fewer are behind; one known by ARP alone has no place', () => {
    const crowded = device(1, { heard: fdb([guest, '1'], ['02:43:41:00:00:02', '1']) });
    expect(place([crowded, device(2, { heard: fdb([guest, '4']) })])).toBe('2/4 direct');
    expect([
      ...conclude([
        device(1, { heard: heardTables({ forwarding: [], addresses: [{ mac: guest, address: '10.72.4.9' }] }) }),
      ]).attachments,
    ]).toMatchObject([{ mac: guest, port: null, addresses: ['10.72.4.9'] }]);
  });
  test('the order in which devices are given changes nothing', () => {
    const devices = [1, 2, 3].map((id) =>
      device(id, {
        neighbours: id < 3 ? [hears('1', id + 1, '2')] : [],
        heard: fdb([guest, '3'], [`02:43:41:00:01:0${id}`, '4']),
      }),
    );
    const whole = JSON.stringify([conclude(devices).links, [...conclude(devices).attachments]]);
    fc.assert(
      fc.property(
        fc.shuffledSubarray(devices, { minLength: 3 }),
        (shuffled) => JSON.stringify([conclude(shuffled).links, [...conclude(shuffled).attachments]]) === whole,
      ),
    );
  });
});

describe('what a neighbour says of its port (LLDP-EXT-DOT1, -DOT3)', () => {
  const issues = (told: NeighbourFacts['told'], own: Partial<PortFacts>, other: Partial<PortFacts>) =>
    conclude([
      device(1, {
        ports: [port(1, 1, own)],
        neighbours: [hears('1', 2, '1', { ...(told && { told }) })],
      }),
      device(2, { ports: [port(2, 1, other)] }),
    ]).links.flatMap((link) => link.issues.map(({ kind }) => kind));
  const silent = { vlan: null, duplex: 'unknown' };
  test('counts where the port itself tells nothing', () => {
    expect(issues({ vlan: 20 }, { vlan: 10 }, silent)).toEqual(['nativeVlan']);
    expect(issues({ vlan: 10 }, { vlan: 10 }, silent)).toEqual([]);
    // 1000BASE-T full duplex is type 30, half is 29
    expect(issues({ mauType: 29 }, { vlan: null, duplex: 'full' }, silent)).toEqual(['duplex']);
    expect(issues(undefined, { vlan: 10 }, silent)).toEqual([]);
  });
  test('an aggregate that its agent does not tell of, and the longest frame', () => {
    expect(issues({ aggregated: true }, { lag: 'agg1' }, { lag: null })).toEqual([]);
    expect(issues({ aggregated: false }, { lag: 'agg1' }, { lag: null })).toEqual(['aggregation']);
    const both = (mtu: number | null) =>
      conclude([
        device(1, { ports: [port(1, 1, { mtu })], neighbours: [hears('1', 2, '1', { told: { maxFrame: 1522 } })] }),
        device(2, { ports: [port(2, 1, { mtu })], neighbours: [hears('1', 1, '1', { told: { maxFrame: 9216 } })] }),
      ]).links.flatMap((link) => link.issues.map(({ words }) => words));
    expect(both(null)).toEqual(['longest frame differs: sw-1 1 has 9216 octets, sw-2 1 has 1522 octets']);
    expect(both(1500)).toEqual([]);
  });
  test('and not where it was asked', () => {
    expect(issues({ vlan: 20 }, { vlan: 10 }, { vlan: 10, duplex: 'unknown' })).toEqual([]);
  });
});

describe('the address of a virtual router (RFC 9568)', () => {
  const router = (id: number, state: 'master' | 'backup') =>
    device(id, {
      virtualRouters: [
        {
          port: '1',
          group: 10,
          family: 'IPv4',
          state,
          priority: 100,
          mac: '00:00:5e:00:01:0a',
          addresses: ['10.72.0.254'],
        },
      ],
    });
  test('is of the device that carries it now, and of no machine', () => {
    const index = new DeviceIndex([router(1, 'backup'), router(2, 'master')]);
    expect(index.byMac('00:00:5e:00:01:0a')?.id).toBe(2);
    expect(new DeviceIndex([router(1, 'backup')]).byMac('00:00:5e:00:01:0a')?.id).toBe(1);
  });
  test('tells no neighbour apart', () => {
    const index = new DeviceIndex([router(1, 'backup'), router(2, 'master')]);
    expect(
      index.ofNeighbour(hears('1', 9, '1', { chassisId: '00:00:5e:00:01:0a', systemName: '' }))?.id,
    ).toBeUndefined();
  });
});

describe('who a neighbour is, and which port of it (IEEE 802.1AB)', () => {
  const ends = (...devices: SightedDevice[]) =>
    conclude(devices).links.map(({ a, b, confidence, issues }) => [
      `${a.device} ${a.port}`,
      `${b.device} ${b.port}`,
      confidence,
      ...issues.map(({ kind }) => kind),
    ]);
  const called = (name: string, more: object = {}) =>
    ({
      name,
      role: 'switch',
      address: '',
      addresses: [],
      units: [],
      bridgeAddress: null,
      ...more,
    }) as unknown as DeviceFacts;

  test('two that are both called “switch”, with ids of their own making, find each other by those', () => {
    const local = { chassisIdSubtype: 'local', systemName: 'switch' };
    expect(
      ends(
        device(1, {
          device: called('switch', { chassisId: 'local cabinet-7' }),
          neighbours: [hears('1', 2, '2', { ...local, chassisId: 'cabinet-8' })],
        }),
        device(2, {
          device: called('switch', { chassisId: 'local cabinet-8' }),
          neighbours: [hears('2', 1, '1', { ...local, chassisId: 'cabinet-7' })],
        }),
      ),
    ).toEqual([['switch 1', 'switch 2', 'confirmed']]);
  });
  test('a port is found by what it calls itself in its own table', () => {
    expect(
      ends(
        device(1, { neighbours: [hears('1', 2, 'slot 2 socket 9', { portIdSubtype: 'local' })] }),
        device(2, { ports: [port(2, 3, { lldpId: 'local slot 2 socket 9' }), port(2, 4)] }),
      ),
    ).toEqual([['sw-1 1', 'sw-2 3', 'claimed']]);
  });
  test('ports that share a MAC or a description are not told apart by it, and no VLAN interface is an end', () => {
    const shared = mac(2, 99);
    const alike = [1, 2, 3].map((at) => port(2, at, { mac: shared, description: 'Ethernet port' }));
    const vlan = port(2, 50, { name: 'vlan10', type: 'vlan interface', physical: false, mac: shared });
    const byMac = { portIdSubtype: 'macAddress', portDescription: 'Ethernet port' };
    const [first] = conclude([
      device(1, { neighbours: [hears('1', 2, shared, byMac)] }),
      device(2, { ports: [vlan, ...alike] }),
    ]).links;
    expect(first?.b).toMatchObject({ device: 'sw-2', port: shared });
    // the one socket among those that have the MAC
    expect(
      ends(
        device(1, { neighbours: [hears('1', 2, shared, byMac)] }),
        device(2, { ports: [vlan, alike[0] ?? port(2, 1)] }),
      ),
    ).toEqual([['sw-1 1', 'sw-2 1', 'claimed']]);
  });
  test('names that share half of them, an address that two have, an id of noughts: joins nobody', () => {
    const east = device(2, { device: called('core.east.example', { addresses: ['192.0.2.1'] }) });
    const west = device(3, { device: called('core.west.example', { addresses: ['192.0.2.1'] }) });
    const unknown = { chassisIdSubtype: 'local', chassisId: 'x' };
    const heard = (more: Partial<NeighbourFacts>) =>
      ends(device(1, { neighbours: [hears('1', 9, '1', { ...unknown, ...more })] }), east, west).length;
    expect(heard({ systemName: 'core.north.example' })).toBe(0);
    expect(heard({ systemName: 'core' })).toBe(0);
    expect(heard({ systemName: '', managementAddresses: ['192.0.2.1'] })).toBe(0);
    expect(heard({ systemName: '', chassisIdSubtype: 'macAddress', chassisId: '00:00:00:00:00:00' })).toBe(0);
    expect(heard({ systemName: 'core.west.example' })).toBe(1);
  });
});
