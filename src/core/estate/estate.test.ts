import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { PhysicalRow } from '../mib/entity';
import type { Signature } from '../signatures/signature';
import { carryOver } from './carryOver';
import { readCredential } from './credentialSchema';
import { changedFields, stable } from './difference';
import { toldKinds } from './factKinds';
import type { DeviceFacts } from './facts';
import { matchIdentity, type KnownIdentity } from './identity';
import { interpret, portNames, stateAge } from './interpret';
import { moduleTree } from './moduleTree';
import { readScope, scopeDefaults } from './scope';
import { harvestOf, interfaceRow } from './testHarvest';
import { transceiversByPort } from './transceivers';

const access: Signature = {
  id: 'k-access',
  order: 100,
  match: { objectId: '1.3.6.1.4.1.59101.1', description: 'K-Access' },
  vendor: 'Kestrane',
  role: 'switch',
  family: { literal: 'K-Access' },
  model: { description: '(K-Access \\d+)' },
  release: { description: 'release ([^,\\s]+)' },
};
const generic: Signature = { id: 'generic', order: 1000, match: {}, vendor: '', role: 'unknown' };
const physical = (entPhysicalIndex: number, containedIn: number, more: Partial<PhysicalRow> = {}): PhysicalRow => ({
  entPhysicalIndex,
  containedIn,
  class: 'module',
  position: entPhysicalIndex,
  name: `part ${entPhysicalIndex}`,
  description: '',
  hardwareRevision: '',
  firmwareRevision: '',
  softwareRevision: '',
  serial: '',
  vendor: '',
  model: '',
  assetId: '',
  replaceable: false,
  ...more,
});

describe('transceivers', () => {
  const transceiver = (index: number, containedIn: number, model: string) =>
    physical(index, containedIn, { name: 'Transceiver', description: '10G LR SFP+ transceiver', model });
  const cage = (index: number, name: string) => physical(index, 1, { class: 'container', name });
  const names = new Map([
    [101, 'U1'],
    [102, 'U2'],
    [7, 'spare'],
    [8, 'spare'],
  ]);
  test('are in the port that their cage is named by, if it is the only one of that name', () => {
    const rows = [
      physical(1, 0, { class: 'chassis', name: 'box' }),
      cage(2, 'Cage U1'),
      transceiver(3, 2, 'KX-10LR'),
      cage(4, 'Cage spare'),
      transceiver(5, 4, 'KX-10ER'),
      transceiver(6, 1, 'on the card itself'),
    ];
    expect([...transceiversByPort(rows, new Map(), names)]).toEqual([[101, 'KX-10LR']]);
  });
  test.each([
    ['the transceiver itself', 3],
    ['what is below it', 9],
    ['the cage that holds it', 2],
  ])('are where the alias mapping says of %s, whatever the cage is called', (_, mapped) => {
    const rows = [
      physical(1, 0, { class: 'chassis', name: 'box' }),
      cage(2, 'Cage U1'),
      transceiver(3, 2, ''),
      physical(9, 3, { class: 'port', name: 'p' }),
    ];
    expect([
      ...transceiversByPort(
        rows,
        new Map([
          [mapped, 102],
          [1, 7],
        ]),
        names,
      ),
    ]).toEqual([[102, '10G LR SFP+ transceiver']]);
  });
});

describe('module tree', () => {
  test('parents come before children, slots in order, an empty container is an empty slot', () => {
    const { modules: tree } = moduleTree([
      physical(4, 2, { name: 'Card' }),
      physical(3, 1, { class: 'container', name: 'Slot 2', position: 2 }),
      physical(2, 1, { class: 'container', name: 'Slot 1', position: 1 }),
      physical(1, 0, { class: 'chassis', name: 'box' }),
    ]);
    expect(tree.map(({ path, empty }) => [path, empty])).toEqual([
      ['box', false],
      ['box / Slot 1', false],
      ['box / Slot 1 / Card', false],
      ['box / Slot 2', true],
    ]);
  });
  test('whatever agents claim, every row is in the tree once and paths tell them apart', () => {
    const row = fc
      .tuple(fc.integer({ min: 1, max: 12 }), fc.integer({ min: 0, max: 14 }), fc.constantFrom('a', 'b', ''))
      .map(([index, parent, name]) => physical(index, parent, { name }));
    fc.assert(
      fc.property(
        fc.uniqueArray(row, { selector: ({ entPhysicalIndex }) => entPhysicalIndex, maxLength: 12 }),
        (rows) => {
          const { modules: tree } = moduleTree(rows);
          expect(tree).toHaveLength(rows.length);
          expect(new Set(tree.map(({ path }) => path)).size).toBe(rows.length);
          const seen = new Set<string>();
          for (const { path, parent } of tree) {
            if (parent !== null) expect(seen.has(parent)).toBe(true);
            seen.add(path);
          }
        },
      ),
    );
  });
  test('transceivers, memory and drives are told apart by their words', () => {
    const classes = moduleTree([
      physical(1, 0, { description: '10G LR SFP+ transceiver' }),
      physical(2, 0, { description: '16 GB memory DIMM' }),
      physical(3, 0, { description: '960 GB drive' }),
      physical(4, 0, { description: 'Line card' }),
    ]).modules.map((row) => row.class);
    expect(classes).toEqual(['transceiver', 'memory', 'drive', 'module']);
  });
});

describe('interpreting a harvest', () => {
  test('a signature gives maker, family, model and release; where it stands is not its to say', () => {
    const { device } = interpret(harvestOf({}), [generic, access]);
    expect(device).toMatchObject({
      vendor: 'Kestrane',
      family: 'K-Access',
      model: 'K-Access 48',
      release: '7.4.9',
      role: 'switch',
      site: '',
      address: '10.72.4.2',
      addresses: ['10.72.4.2'],
    });
  });
  test('an unknown bridge with sockets is a switch, an unknown host a host', () => {
    const bridge = {
      address: null,
      ifIndexByBridgePort: new Map(),
      forwarding: [],
      vlans: [],
      pvid: new Map(),
      stp: { root: null, rootBridgePort: null, ports: [] },
    };
    const sockets = [1, 2, 3, 4, 5].map((at) => interfaceRow(at, `p${at}`));
    expect(interpret(harvestOf({ bridge, interfaces: sockets }), [generic]).device.role).toBe('switch');
    expect(
      interpret(
        harvestOf({
          system: { ...harvestOf({}).system, services: 72 },
          host: { memoryBytes: 1, storage: [], processors: [] },
        }),
        [generic],
      ).device.role,
    ).toBe('host');
  });
  test('bridge ports, LLDP port numbers and ifIndex are three numberings', () => {
    const report = interpret(
      harvestOf({
        interfaces: [interfaceRow(101, 'U1', { alias: 'north' }), interfaceRow(7, '7')],
        bridge: {
          address: '02:4b:45:00:00:01',
          ifIndexByBridgePort: new Map([
            [1, 101],
            [2, 7],
          ]),
          forwarding: [
            { mac: '02:43:41:00:00:01', bridgePort: 2, vlan: 30 },
            { mac: '02:43:41:00:00:02', bridgePort: 9, vlan: 30 },
          ],
          pvid: new Map([[2, 30]]),
          vlans: [
            { vlan: 10, name: 'OPS', egressBridgePorts: [1, 2], untaggedBridgePorts: [] },
            { vlan: 30, name: '', egressBridgePorts: [2], untaggedBridgePorts: [2] },
          ],
          stp: {
            root: null,
            rootBridgePort: 1,
            ports: [{ bridgePort: 1, state: 'forwarding', designatedBridge: null, designatedPort: null }],
          },
        },
        lldp: {
          chassisIdSubtype: 'macAddress',
          chassisId: '',
          localPorts: [{ portNumber: 1, portIdSubtype: 'interfaceAlias', portId: 'north', description: '' }],
          neighbours: [1, 2].map((localPortNumber) => ({
            localPortNumber,
            chassisIdSubtype: 'macAddress' as const,
            chassisId: 'x',
            portIdSubtype: 'local' as const,
            portId: '1',
            portDescription: '',
            systemName: '',
            systemDescription: '',
            capabilities: [],
            managementAddresses: [],
          })),
        },
      }),
      [access, generic],
    );
    expect(report.sightings.forwarding).toEqual([
      { mac: '02:43:41:00:00:01', port: '7', vlan: 30 },
      { mac: '02:43:41:00:00:02', port: 'bridge port 9', vlan: 30 },
    ]);
    expect(report.ports.find(({ name }) => name === '7')).toMatchObject({ vlan: 30, taggedVlans: [10] });
    expect(report.ports.find(({ name }) => name === 'U1')?.stp?.role).toBe('root');
    expect(report.neighbours.map(({ port }) => port)).toEqual(['U1', '7']);
  });
  test('bridge ports that no row maps are interfaces of that number, where all of them can be; else they stay what they are called', () => {
    const heardOn = (ports: number[], mapped: [number, number][] = []) =>
      interpret(
        harvestOf({
          interfaces: [interfaceRow(1, 'x1'), interfaceRow(2, 'x2'), interfaceRow(3, 'vlan3', { ifType: 136 })],
          bridge: {
            address: '02:4b:45:00:00:01',
            ifIndexByBridgePort: new Map(mapped),
            forwarding: ports.map((bridgePort) => ({ mac: `02:43:41:00:00:0${bridgePort}`, bridgePort, vlan: null })),
            pvid: new Map(),
            vlans: [],
            stp: { root: null, rootBridgePort: null, ports: [] },
          },
        }),
        [access, generic],
      ).sightings.forwarding.map(({ port }) => port);
    expect(heardOn([1, 2])).toEqual(['x1', 'x2']);
    expect(heardOn([1, 2], [[1, 1]])).toEqual(['x1', 'x2']);
    expect(heardOn([1, 2], [[1, 2]])).toEqual(['x2', 'bridge port 2']);
    expect(heardOn([1, 3])).toEqual(['bridge port 1', 'bridge port 3']);
  });
  test('ports with one name are told apart by their ifIndex', () => {
    expect(
      interpret(harvestOf({ interfaces: [interfaceRow(1, 'lan'), interfaceRow(2, 'lan')] }), [generic]).ports.map(
        ({ name }) => name,
      ),
    ).toEqual(['lan #1', 'lan #2']);
    // one that is called as another would be
    const clash = [interfaceRow(1, 'x'), interfaceRow(2, 'x'), interfaceRow(3, 'x #2')];
    expect([...portNames(clash).values()]).toEqual(['x #1', 'x #2 #2', 'x #2']);
  });
  test('the age of a state survives the wrap of sysUpTime after 497 days', () => {
    expect(stateAge(100, 400)).toBe(300);
    expect(stateAge(42_949_600, 100)).toBe(Math.floor(100 - 42_949_600 + 2 ** 32 / 100));
    // it changed while the device was read, after its uptime
    expect(stateAge(402, 400)).toBe(0);
    expect(stateAge(null, 4)).toBeNull();
  });
});

describe('identity', () => {
  const facts = (more: Partial<DeviceFacts>) =>
    ({
      name: 'rpw-plat',
      address: '10.72.4.2',
      addresses: ['10.72.4.2'],
      serial: 'S1',
      engineId: null,
      bridgeAddress: null,
      units: [],
      ...more,
    }) as unknown as DeviceFacts;
  const known: KnownIdentity = {
    id: 7,
    name: 'rpw-plat',
    address: '10.72.4.2',
    addresses: ['10.72.4.2'],
    serial: 'S1',
    engineId: 'e1',
    bridgeAddress: 'b1',
  };
  test('the same chassis is the same device under another name and address', () => {
    expect(matchIdentity(facts({ name: 'renamed', address: '10.72.9.9', addresses: [] }), [known])).toEqual({
      id: 7,
      by: 'serial',
      replaced: false,
    });
  });
  test('same name and address with another serial is a replacement', () => {
    expect(matchIdentity(facts({ serial: 'S2' }), [known])).toEqual({ id: 7, by: 'name and address', replaced: true });
  });
  test('clones with one engine id stay apart; a device without serial is known by its engine', () => {
    expect(
      matchIdentity(
        facts({ serial: '', name: 'clone', address: '10.72.9.9', addresses: ['10.72.9.9'], engineId: 'e1' }),
        [known],
      ),
    ).toBeNull();
    expect(matchIdentity(facts({ serial: '', name: 'renamed', engineId: 'e1' }), [known])).toMatchObject({
      id: 7,
      by: 'engine',
    });
  });
  test('a stranger is new', () => {
    expect(
      matchIdentity(facts({ serial: 'S9', name: 'other', address: '10.72.8.8', addresses: [] }), [known]),
    ).toBeNull();
  });
});

test('a part that broke off does not blank what was known', () => {
  const previous = { serial: 'S1', model: 'K-Access 48', memoryBytes: 5, name: 'old' } as DeviceFacts;
  const found = { serial: '', model: '', memoryBytes: null, name: 'new' } as unknown as DeviceFacts;
  expect(carryOver(previous, found, new Set(['system', 'host']), new Set(['system', 'modules', 'host']))).toMatchObject(
    { serial: 'S1', model: 'K-Access 48', memoryBytes: null, name: 'new' },
  );
  expect(carryOver(undefined, found, new Set(), new Set())).toBe(found);
});

test('differences are by value: the order of keys is none, the order of a list is one', () => {
  expect(changedFields({ a: { x: 1, y: 2 }, b: [1, 2], c: 1 }, { a: { y: 2, x: 1 }, b: [2, 1] })).toEqual([
    { field: 'b', before: [1, 2], after: [2, 1] },
    { field: 'c', before: 1, after: null },
  ]);
  fc.assert(fc.property(fc.jsonValue(), (value) => stable(value) === stable(JSON.parse(JSON.stringify(value)))));
});

describe('scopes', () => {
  const mistakes = (more: Partial<typeof scopeDefaults>) => {
    const read = readScope({ ...scopeDefaults, name: 'x', ranges: ['10.72.4.0/24'], ...more });
    return 'mistakes' in read ? read.mistakes : [];
  };
  test.each([
    [{ ranges: ['10.72.4.0/24', '10.72.5'] }, 'ranges[1]', 'not an IPv4 address'],
    [{ ranges: ['10.0.0.0/8'] }, 'ranges[0]', 'larger than /16'],
    [{ ranges: ['10.72.0.0-10.80.0.0'] }, 'ranges[0]', 'more addresses than a /16'],
    [{ ranges: [] }, 'ranges', 'at least one'],
    [{ exclusions: ['10.72.4.1-9', '10.72.4.5'] }, 'exclusions[1]', 'overlaps the exclusion “10.72.4.1-9”'],
    [{ exclusions: ['10.73.0.0/24'] }, 'exclusions[0]', 'excludes nothing'],
    [{ exclusions: ['10.72.4.0-10.72.4.255'] }, 'exclusions', 'leave no address'],
    [{ translations: ['10.72.0.0/16 to 1.2.3.4'] }, 'translations[0]', 'is not a translation'],
    [{ timeoutMs: 5 }, 'timeoutMs', 'from 50 to 60000'],
    [{ port: Number.NaN }, 'port', 'whole number'],
  ])('%j is told at %s', (more, path, words) => {
    expect(mistakes(more)).toEqual([{ path, message: expect.stringContaining(words) }]);
  });
  test('the limit can be raised, and a good scope gives its addresses', () => {
    expect(mistakes({ ranges: ['10.64.0.0/12'], largestPrefix: 12 })).toEqual([]);
    const read = readScope({ ...scopeDefaults, ranges: ['10.72.4.0/29'], exclusions: ['10.72.4.2-3'] });
    expect('scope' in read && read.scope.addresses).toEqual(['10.72.4.1', '10.72.4.4', '10.72.4.5', '10.72.4.6']);
  });
});

describe('credentials', () => {
  test.each([
    [{ name: 'a', kind: 'telnet' }, 'kind', 'is no kind of credential'],
    [{ name: 'a', kind: 'snmp2c' }, 'community', 'missing'],
    [{ name: 'a', kind: 'snmp2c', community: 'x', extra: 1 }, '', 'extra'],
    [
      { name: 'a', kind: 'snmp3', user: 'u', auth: { protocol: 'SHA-256', password: 'short' } },
      'auth.password',
      '8 characters',
    ],
    [
      { name: 'a', kind: 'snmp3', user: 'u', priv: { protocol: 'AES-128', password: 'long enough' } },
      'priv',
      'needs authentication',
    ],
    [{ kind: 'snmp2c', community: 'x' }, 'name', 'name'],
  ])('%j', (value, path, words) => {
    const read = readCredential(value);
    expect('mistakes' in read && read.mistakes).toContainEqual({ path, message: expect.stringContaining(words) });
  });
  test('good ones pass', () => {
    expect(
      readCredential({
        name: 'a',
        kind: 'snmp3',
        user: 'u',
        auth: { protocol: 'SHA-1', password: 'long enough' },
        priv: { protocol: 'AES-256', password: 'long enough' },
      }),
    ).toHaveProperty('credential');
  });
  test('a user who writes is one whom nobody can listen to', () => {
    const auth = { protocol: 'SHA-256', password: 'long enough' };
    const user = { name: 'a', kind: 'snmp3', user: 'u', purpose: 'write' };
    expect(readCredential({ ...user, auth, priv: { protocol: 'AES-128', password: 'long enough' } })).toHaveProperty(
      'credential',
    );
    for (const open of [user, { ...user, auth }])
      expect(readCredential(open)).toEqual({
        mistakes: [{ path: 'purpose', message: 'A user who writes needs authentication and privacy' }],
      });
    expect(readCredential({ name: 'c', kind: 'snmp2c', community: 'w', purpose: 'write' })).toHaveProperty('mistakes');
  });
});

describe('what a device did not tell of itself', () => {
  const facts = (name: string) => ({ name, description: `${name} says`, addresses: [] }) as unknown as DeviceFacts;
  test('stays as it was where the question for it was dropped', () => {
    const kept = carryOver(facts('lqy-ring'), facts(''), new Set(['interfaces']), new Set(['system', 'interfaces']));
    expect([kept.name, kept.description]).toEqual(['lqy-ring', 'lqy-ring says']);
  });
  test('is gone where it was answered with nothing', () => {
    expect(carryOver(facts('lqy-ring'), facts(''), new Set(['system']), new Set(['system'])).name).toBe('');
  });
});

test('two neighbours at a port that give themselves no ids are two', () => {
  const key = toldKinds.find(({ kind }) => kind === 'neighbour')?.key;
  const heard = (systemName: string, chassisId = '') => ({ port: 'U1', chassisId, portId: chassisId, systemName });
  const keys = (...all: ReturnType<typeof heard>[]) => all.map((row) => key?.(row as never, all as never));
  expect(keys(heard('a'), heard('b'))).toEqual(['U1  ', 'U1   2']);
  // the same ids are the same neighbour, told twice
  expect(keys(heard('a', 'x'), heard('a', 'x'))).toEqual(['U1 x x', 'U1 x x']);
});

describe('for how long a device runs', () => {
  const wrap = 2 ** 32 / 100;
  const told = (more: Partial<Parameters<typeof harvestOf>[0]>) => interpret(harvestOf(more), [generic]).volatile;
  const system = { ...harvestOf({}).system, uptimeSeconds: 1000 };
  test('the rounds of sysUpTime count, for the counters too', () => {
    const interfaces = [interfaceRow(1, 'U1', { countedSinceUptimeSeconds: 10 })];
    const volatile = told({ system: { ...system, engineSeconds: Math.floor(wrap) + 1000 }, interfaces });
    expect(volatile.uptimeSeconds).toBe(Math.floor(wrap + 1000));
    expect(volatile.portsCountedSince).toEqual({ U1: Math.floor(wrap + 1000) - 990 });
  });
  test('a host runs longer than its agent, and its counters began with the agent', () => {
    const host = { memoryBytes: null, storage: [], processors: [], upForSeconds: 90_000 };
    expect(told({ system, host })).toMatchObject({ uptimeSeconds: 90_000, agentLaterSeconds: 88_980 });
    expect(told({ system })).not.toHaveProperty('agentLaterSeconds');
  });
});
