import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { listAt, numberAt, textAt, type Json } from './json';
import { interpretRedfish } from './redfish';
import { plainPath } from './resourceTree';

const context = {
  address: '10.72.2.11',
  credential: 'hardware',
  site: (name: string) => name.slice(0, 3).toUpperCase(),
};
const link = (path: string) => ({ '@odata.id': path });
const resources = (given: Record<string, Json>) =>
  new Map(Object.entries(given).map(([path, value]) => [`/redfish/v1${path}`, value]));
const least = {
  '/Systems': { Members: [link('/redfish/v1/Systems/1')] },
  '/Systems/1': {
    HostName: 'sgh-srv-01',
    Manufacturer: 'Brannick',
    Model: 'Brannick R1',
    SerialNumber: ' BR1-1 ',
    BiosVersion: '2.14.1',
    UUID: '5A1D0E00-7201-4000-8000-000000000001',
  },
};

describe('foreign JSON', () => {
  test('gives only what is of the type asked for', () => {
    const value: Json = { a: { b: [1, 'two'], c: ' text\u0000here ', d: '18446744073709551615', e: 'twelve' } };
    expect([
      textAt(value, 'a', 'c'),
      textAt(value, 'a', 'b'),
      textAt(value, 'a', 'toString'),
      numberAt(value, 'a', 'd'),
      numberAt(value, 'a', 'e'),
      listAt(value, 'a', 'b').length,
      listAt(null, 'a'),
    ]).toEqual(['text here', '', '', 18_446_744_073_709_552_000, null, 2, []]);
  });
  test('paths lose fragment and trailing slash', () => {
    expect(['/redfish/v1/', '/redfish/v1/Chassis/1/Power#/PowerSupplies/0', '/'].map(plainPath)).toEqual([
      '/redfish/v1',
      '/redfish/v1/Chassis/1/Power',
      '/',
    ]);
  });
});

describe('a tree of resources', () => {
  test('with nothing but a system is a server all the same', () => {
    const answer = interpretRedfish({ resources: resources(least), gaps: [] }, context);
    expect(answer?.report.device).toMatchObject({
      name: 'sgh-srv-01',
      vendor: 'Brannick',
      serial: 'BR1-1',
      bootRelease: '2.14.1',
      uuid: '5a1d0e00-7201-4000-8000-000000000001',
      addresses: ['10.72.2.11'],
      memoryBytes: null,
    });
    expect(answer?.report.modules).toMatchObject([{ class: 'chassis', path: 'sgh-srv-01', serial: 'BR1-1' }]);
  });
  test('without a system or chassis is nothing', () => {
    expect(
      interpretRedfish({ resources: resources({ '': { RedfishVersion: '1.15.0' } }), gaps: [] }, context),
    ).toBeNull();
  });
  test('missing subtrees are parts that broke off, each by what it would have told', () => {
    const gap = (property: string) =>
      interpretRedfish(
        { resources: resources(least), gaps: [{ path: '/redfish/v1/x/7', property, reason: 'no answer' }] },
        context,
      )?.parts;
    const failed = (property: string) =>
      Object.entries(gap(property) ?? {})
        .filter(([, part]) => part.state === 'failed')
        .map(([name]) => name)
        .sort();
    expect(failed('FirmwareInventory')).toEqual(['software']);
    expect(failed('Entries')).toEqual(['sensors']);
    expect(failed('Memory')).toEqual(['modules', 'sensors']);
    expect(failed('EthernetInterfaces')).toEqual(['interfaces']);
  });
  test('health is the part’s own, never the rollup; open log entries without a part are faults too, closed and old ones are not', () => {
    const answer = interpretRedfish(
      {
        gaps: [],
        resources: resources({
          ...least,
          '/Systems/1': {
            ...least['/Systems/1'],
            Status: { HealthRollup: 'Critical', Health: 'OK' },
            Memory: link('/redfish/v1/Systems/1/Memory'),
            LogServices: link('/redfish/v1/Systems/1/LogServices'),
          },
          '/Systems/1/Memory': {
            Members: [
              link('/redfish/v1/Systems/1/Memory/1'),
              link('/redfish/v1/Systems/1/Memory/2'),
              link('/redfish/v1/Systems/1/Memory/gone'),
            ],
          },
          '/Systems/1/Memory/1': {
            DeviceLocator: 'A1',
            CapacityMiB: 16_384,
            SerialNumber: 'M-1',
            Status: { State: 'Enabled', Health: 'Warning' },
          },
          '/Systems/1/Memory/2': { DeviceLocator: 'A2', Status: { State: 'Absent', Health: 'Critical' } },
          '/Systems/1/LogServices/e': { Entries: link('/redfish/v1/Systems/1/LogServices/e/Entries') },
          '/Systems/1/LogServices/e/Entries': {
            Members: [
              {
                '@odata.id': '/x/1',
                Severity: 'Warning',
                Message: 'Old trouble',
                Created: '2026-01-01T00:00:00Z',
                Links: { OriginOfCondition: link('/redfish/v1/Systems/1/Memory/1') },
              },
              {
                '@odata.id': '/x/2',
                Severity: 'Warning',
                Message: 'Corrected errors are many',
                Resolution: 'Replace soon',
                Created: '2026-11-01T00:00:00Z',
                Links: { OriginOfCondition: link('/redfish/v1/Systems/1/Memory/1/') },
              },
              {
                '@odata.id': '/x/3',
                Severity: 'Critical',
                Message: 'The lid is open',
                Resolved: false,
                Created: '1970-01-01T00:00:12Z',
              },
              { '@odata.id': '/x/4', Severity: 'Critical', Message: 'Was hot', Resolved: true },
              { '@odata.id': '/x/5', Severity: 'OK', Message: 'Switched on', Resolved: false },
            ],
          },
        }),
      },
      context,
    );
    expect(answer?.report.faults).toEqual([
      {
        subsystem: 'memory',
        part: 'sgh-srv-01 / A1',
        severity: 'warning',
        message: 'Corrected errors are many',
        action: 'Replace soon',
        since: '2026-11-01T00:00:00.000Z',
      },
      {
        subsystem: 'log',
        part: 'log',
        severity: 'critical',
        message: 'The lid is open',
        action: 'Look at the log of the management controller.',
        since: null,
      },
    ]);
    expect(answer?.report.modules.map(({ name, empty }) => [name, empty])).toEqual([
      ['sgh-srv-01', false],
      ['A1', false],
      ['A2', true],
    ]);
  });
  test('of any JSON at all never breaks, and paths of modules tell them apart', () => {
    const names = [
      'Members',
      '@odata.id',
      'Status',
      'State',
      'Health',
      'Memory',
      'Drives',
      'PowerSupplies',
      'Power',
      'Temperatures',
      'Name',
      'Links',
      'Chassis',
      'EthernetInterfaces',
      'IPv4Addresses',
      'UUID',
      'Severity',
      'Message',
    ];
    const leaf = fc.oneof(
      fc.constantFrom(
        '/redfish/v1/Systems',
        '/redfish/v1/Systems/1',
        '/redfish/v1/Chassis/1',
        '/redfish/v1/Chassis/1/Power',
        'Absent',
        'Critical',
        '10.72.2.11',
        '',
      ),
      fc.integer(),
      fc.boolean(),
      fc.constant(null),
    );
    const { json } = fc.letrec<{ json: Json; object: Json; list: Json }>((tie) => ({
      json: fc.oneof({ depthSize: 'small' }, leaf, tie('object'), tie('list')),
      object: fc.dictionary(fc.constantFrom(...names), tie('json'), { maxKeys: 5 }) as fc.Arbitrary<Json>,
      list: fc.array(tie('json'), { maxLength: 4 }),
    }));
    const paths = fc.constantFrom(
      '/Systems',
      '/Systems/1',
      '/Chassis',
      '/Chassis/1',
      '/Chassis/1/Power',
      '/Systems/1/Memory',
      '/Managers',
      '/UpdateService/FirmwareInventory',
      '/Systems/1/LogServices/e/Entries',
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(paths, json), { maxLength: 9 }), (given) => {
        const answer = interpretRedfish(
          { resources: resources({ ...least, ...Object.fromEntries(given) }), gaps: [] },
          context,
        );
        const modules = answer?.report.modules.map(({ path }) => path) ?? [];
        expect(new Set(modules).size).toBe(modules.length);
      }),
      { numRuns: 1000 },
    );
  });
});

describe('several systems behind one controller (DSP0268, ComputerSystem)', () => {
  const node = (at: number, health: string) => ({
    [`/Systems/n${at}`]: {
      Id: `n${at}`,
      HostName: `sgh-srv-1${at}`,
      SerialNumber: `BR2-${at}`,
      UUID: `5A1D0E00-7201-4000-8000-00000000010${at}`,
      Memory: link(`/redfish/v1/Systems/n${at}/Memory`),
      EthernetInterfaces: link(`/redfish/v1/Systems/n${at}/EthernetInterfaces`),
      Links: { Chassis: [link(`/redfish/v1/Chassis/sled${at}`)], ManagedBy: [link('/redfish/v1/Managers/1')] },
    },
    [`/Systems/n${at}/Memory`]: { Members: [link(`/redfish/v1/Systems/n${at}/Memory/1`)] },
    [`/Systems/n${at}/Memory/1`]: {
      DeviceLocator: 'A1',
      CapacityMiB: 16_384 * at,
      Status: { State: 'Enabled', Health: health },
    },
    [`/Systems/n${at}/EthernetInterfaces`]: { Members: [link(`/redfish/v1/Systems/n${at}/EthernetInterfaces/1`)] },
    [`/Systems/n${at}/EthernetInterfaces/1`]: { Id: 'eth0', MACAddress: `02:42:52:00:0${at}:01` },
    [`/Chassis/sled${at}`]: {
      Name: `Sled ${at}`,
      SerialNumber: `SL-${at}`,
      Links: { ContainedBy: link('/redfish/v1/Chassis/box') },
    },
  });
  const shared = {
    '': { Systems: link('/redfish/v1/Systems'), Chassis: link('/redfish/v1/Chassis/') },
    '/Systems': { Members: [link('/redfish/v1/Systems/n1'), link('/redfish/v1/Systems/n2/')] },
    '/Chassis': { Members: ['box', 'sled1', 'sled2'].map((name) => link(`/redfish/v1/Chassis/${name}`)) },
    '/Chassis/box': { Name: 'Box', SerialNumber: 'BX-1', Power: link('/redfish/v1/Chassis/box/Power') },
    '/Chassis/box/Power': { PowerSupplies: [{ Name: 'Supply 1', Status: { State: 'Enabled', Health: 'OK' } }] },
    '/Managers': { Members: [link('/redfish/v1/Managers/1')] },
    '/Managers/1': { FirmwareVersion: '4.1' },
    '/Managers/1/LogServices/log': { Entries: link('/redfish/v1/Managers/1/LogServices/log/Entries') },
    '/Managers/1/LogServices/log/Entries': {
      Members: [
        {
          '@odata.id': '/redfish/v1/Managers/1/LogServices/log/Entries/1',
          Severity: 'Critical',
          Message: 'Uncorrectable errors in A1',
          Links: { OriginOfCondition: link('/redfish/v1/Systems/n2/Memory/1') },
        },
      ],
    },
  };
  const answer = interpretRedfish(
    {
      resources: resources({ ...shared, ...node(1, 'OK'), ...node(2, 'Critical') }),
      gaps: [{ path: '/redfish/v1/Systems/n2/Storage', reason: 'is closed' }],
    },
    context,
  );
  const [first, second] = [answer, ...(answer?.others ?? [])];
  test('are as many devices, each with its own name, serial, UUID, memory and ports', () => {
    expect([answer, ...(answer?.others ?? [])].map((told) => told?.report.device)).toMatchObject([
      { name: 'sgh-srv-11', serial: 'BR2-1', uuid: '5a1d0e00-7201-4000-8000-000000000101', memoryBytes: 2 ** 34 },
      { name: 'sgh-srv-12', serial: 'BR2-2', uuid: '5a1d0e00-7201-4000-8000-000000000102', memoryBytes: 2 ** 35 },
    ]);
    expect(second?.report.ports.map(({ mac }) => mac)).toEqual(['02:42:52:00:02:01']);
  });
  test('a fault stands at the one it is of, with the words of the log they share', () => {
    expect(first?.report.faults).toEqual([]);
    expect(second?.report.faults).toMatchObject([
      { part: 'sgh-srv-12 / A1', severity: 'critical', message: 'Uncorrectable errors in A1' },
    ]);
  });
  test('the enclosure they share, and its supplies, are there once', () => {
    const serials = [first, second].map((told) => told?.report.modules.map(({ serial, name }) => serial || name));
    expect(serials).toEqual([
      ['BX-1', 'SL-1', 'A1', 'Supply 1'],
      ['SL-2', 'A1'],
    ]);
  });
  test('what could not be had is missing at the one it is of', () => {
    expect(first?.parts.modules?.state).toBe('whole');
    expect(second?.parts.modules).toMatchObject({
      state: 'failed',
      reason: '/redfish/v1/Systems/n2/Storage: is closed',
    });
  });
});
