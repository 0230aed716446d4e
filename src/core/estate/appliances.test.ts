import { describe, expect, test } from '@jest/globals';
import { parseHost } from '../mib/host';
import { interfaceTables, parseInterfaces } from '../mib/interfaces';
import { integer, octets, oid, rows, text } from '../mib/testVarbinds';
import type { Signature } from '../signatures/signature';
import { interpret } from './interpret';
import { harvestOf, interfaceRow } from './testHarvest';

const generic: Signature = { id: 'generic', order: 1000, match: {}, vendor: '', role: 'unknown' };
const told = (more: Parameters<typeof harvestOf>[0]) => interpret(harvestOf(more), [generic]);
const system = { ...harvestOf({}).system, services: 64 };
const ups = {
  vendor: 'Fenmoor',
  model: 'F-Rack 3000',
  release: '4.2',
  battery: 'normal' as const,
  source: 'normal' as const,
  readings: [{ name: 'battery charge', type: 'percent', unit: '%', value: 98 }],
  alarms: [],
};

describe('devices of one purpose', () => {
  test('an uninterruptible power supply is one, with its values among the sensors', () => {
    const { device, volatile } = told({ system, ups });
    expect(device).toMatchObject({ role: 'power', vendor: 'Fenmoor', model: 'F-Rack 3000', release: '4.2' });
    expect(volatile.sensors).toEqual([{ name: 'battery charge', type: 'percent', unit: '%', value: 98, state: 'ok' }]);
  });
  test('a server that watches one stays a server', () => {
    const host = parseHost(
      rows('1.3.6.1.2.1.25.2.3.1', '1', {
        2: oid('1.3.6.1.2.1.25.2.1.4'),
        3: text('/'),
        4: integer(4096),
        5: integer(1000),
        6: integer(10),
      }),
    );
    expect(told({ system, ups, host }).device.role).toBe('host');
  });
  test('what its state means is a fault, once, in its own words where it has some', () => {
    const words = (more: Partial<typeof ups> | object) =>
      told({ system, ups: { ...ups, ...more } }).faults.map(({ message }) => message);
    expect(words({ source: 'battery', battery: 'low' })).toEqual(['the battery is low', 'runs on battery']);
    expect(words({ source: 'battery', alarms: [{ words: 'runs on battery', critical: true }] })).toEqual([
      'runs on battery',
    ]);
    expect(words({})).toEqual([]);
  });
  test('a printer has its model from HOST-RESOURCES and its serial from Printer-MIB', () => {
    const host = parseHost(
      rows('1.3.6.1.2.1.25.3.2.1', '1', {
        2: oid('1.3.6.1.2.1.25.3.1.5'),
        3: text('Brannick P20'),
        5: integer(2),
      }).concat({ oid: '1.3.6.1.2.1.25.2.2.0', value: integer(65_536) }),
    );
    const printer = {
      name: 'ground floor',
      serial: 'BP20-7',
      supplies: [{ name: 'black', percent: 25, isWaste: false }],
      alerts: [{ words: 'paper jam', critical: true }],
    };
    const { device, volatile, faults } = told({ system, host, printer });
    expect(device).toMatchObject({ role: 'printer', model: 'Brannick P20', serial: 'BP20-7' });
    expect(volatile.sensors).toMatchObject([{ name: 'black', value: 25, unit: '%' }]);
    expect(faults).toMatchObject([{ subsystem: 'printer', severity: 'critical', message: 'paper jam' }]);
  });
});

describe('faults that were silent', () => {
  const interfaces = [interfaceRow(1, 'U1'), interfaceRow(2, 'U2')];
  test('a port that cannot give power, and a supply of ports that is broken (RFC 3621)', () => {
    const poweringPorts = [1, 2].map((port) => ({
      group: 1,
      port,
      enabled: true,
      state: port === 2 ? ('fault' as const) : ('searching' as const),
      class: null,
    }));
    expect(
      told({ interfaces, poweringPorts, faultyPowerGroups: [1] }).faults.map(({ part, severity }) => [part, severity]),
    ).toEqual([
      ['group 1', 'critical'],
      ['U2', 'warning'],
    ]);
  });
  test('an active alarm names the port or part it is about', () => {
    const alarm = (resource: string) => ({ resource, words: 'loss of signal', since: null });
    expect(
      told({
        interfaces,
        activeAlarms: [alarm('1.3.6.1.2.1.2.2.1.1.2'), alarm('1.3.6.1.4.1.59101.7'), alarm('')],
      }).faults.map(({ part }) => part),
    ).toEqual(['U2', '1.3.6.1.4.1.59101.7', 'device']);
  });
  test('a device of the host that is down; network interfaces are told of by IF-MIB', () => {
    const device = (index: number, type: number, name: string, status: number) =>
      rows('1.3.6.1.2.1.25.3.2.1', String(index), {
        2: oid(`1.3.6.1.2.1.25.3.1.${type}`),
        3: text(name),
        5: integer(status),
      });
    const host = parseHost([
      { oid: '1.3.6.1.2.1.25.2.2.0', value: integer(65_536) },
      ...device(1, 6, 'disk 1', 5),
      ...device(2, 4, 'network card', 5),
      ...device(3, 6, 'disk 2', 3),
      ...device(4, 6, 'disk 3', 2),
    ]);
    expect(told({ host }).faults.map(({ part, severity }) => [part, severity])).toEqual([
      ['disk 1', 'critical'],
      ['disk 2', 'warning'],
    ]);
  });
  test('members of one aggregate that lead to two systems (IEEE 802.1AX)', () => {
    const member = (index: number, partner: number) =>
      rows(interfaceTables.dot3adAggPortEntry, String(index), {
        9: octets(2, 0, 0, 0, 0, partner),
        13: integer(9),
      });
    const port = (index: number, type: number) =>
      rows(interfaceTables.ifEntry, String(index), {
        2: text(`U${index}`),
        3: integer(type),
        7: integer(1),
        8: integer(1),
      });
    const words = (...partners: number[]) =>
      told({
        interfaces: parseInterfaces([
          ...port(9, 161),
          ...partners.flatMap((partner, at) => [...port(at + 1, 6), ...member(at + 1, partner)]),
        ]),
      }).faults.map(({ part, message }) => `${part} ${message}`);
    expect(words(1, 1)).toEqual([]);
    expect(words(1, 2)).toEqual(['U9 its members lead to 2 systems: 02:00:00:00:00:01, 02:00:00:00:00:02']);
  });
});

test('a box that calls nothing a chassis is the one part that nothing holds', () => {
  const row = (entPhysicalIndex: number, containedIn: number, serial: string) => ({
    entPhysicalIndex,
    containedIn,
    class: 'module' as const,
    position: 1,
    name: `part ${entPhysicalIndex}`,
    description: '',
    hardwareRevision: '',
    firmwareRevision: '',
    softwareRevision: '',
    serial,
    vendor: '',
    model: '',
    assetId: '',
    replaceable: true,
  });
  expect(told({ modules: [row(1, 0, 'KS-1'), row(2, 1, 'KS-2')] }).device.serial).toBe('KS-1');
  expect(told({ modules: [row(1, 0, 'KS-1'), row(2, 0, 'KS-2')] }).device.serial).toBe('');
});
