import { expect, test } from '@jest/globals';
import { carryOverReport } from './carryOver';
import type { HarvestPart } from './harvest';
import type { DeviceReport, PortFacts } from './facts';
import { interpret } from './interpret';
import { mergeInterfaces } from './mergeInterfaces';
import { harvestOf, interfaceRow } from './testHarvest';

const system = interpret(
  harvestOf({
    interfaces: [
      interfaceRow(1, 'eth0', { mac: '02:42:52:00:00:01' }),
      interfaceRow(2, 'bond0', { mac: '02:42:52:00:00:01', ifType: 161 }),
    ],
  }),
  [{ id: 'generic', order: 1, match: {}, vendor: '', role: 'host' }],
);
const port = (name: string, mac: string): PortFacts => ({ ...(system.ports[0] ?? ({} as PortFacts)), name, mac });
const hardware: DeviceReport = {
  ...system,
  device: {
    ...system.device,
    name: 'controller',
    role: 'server',
    serial: 'BR1-1',
    model: 'Brannick R1',
    vendor: 'Brannick',
    memoryBytes: 2 ** 36,
    address: '10.72.2.11',
    addresses: ['10.72.2.11'],
    uuid: 'u-1',
    release: '',
    interfaces: [{ kind: 'redfish', address: '10.72.2.11', credential: 'hw', release: '3.11' }],
  },
  modules: [
    {
      path: 'box',
      class: 'chassis',
      name: 'box',
      description: '',
      vendor: '',
      model: '',
      serial: 'BR1-1',
      hardwareRevision: '',
      firmwareRevision: '',
      softwareRevision: '',
      replaceable: true,
      position: 0,
      parent: null,
      empty: false,
      order: 0,
    },
  ],
  ports: [port('NIC 1', '02:42:52:00:00:01'), port('management controller', '02:42:52:00:00:99')],
  faults: [{ subsystem: 'memory', part: 'DIMM 4', severity: 'critical', message: 'failed', action: '', since: null }],
};

test('the system tells who it is, the controller what it is made of; ports by MAC once, bundles keep their members’ MAC', () => {
  for (const order of [
    [
      { kind: 'snmp' as const, report: system },
      { kind: 'redfish' as const, report: hardware },
    ],
    [
      { kind: 'redfish' as const, report: hardware },
      { kind: 'snmp' as const, report: system },
    ],
  ]) {
    const merged = mergeInterfaces(order);
    expect(merged.device).toMatchObject({
      name: 'rpw-plat',
      role: 'server',
      serial: 'BR1-1',
      vendor: 'Brannick',
      memoryBytes: 2 ** 36,
      address: '10.72.4.2',
      addresses: ['10.72.2.11', '10.72.4.2'],
      uuid: 'u-1',
    });
    expect(merged.device.interfaces).toEqual([
      { kind: 'snmp', address: '10.72.4.2', credential: 'v3', release: '' },
      { kind: 'redfish', address: '10.72.2.11', credential: 'hw', release: '3.11' },
    ]);
    expect(merged.ports.map(({ name }) => name)).toEqual(['eth0', 'bond0', 'management controller']);
    expect([merged.modules.length, merged.faults.length]).toEqual([1, 1]);
  }
});

test('a list whose part broke off is the one of the last good answer; a part that was not asked takes what came', () => {
  const broken = { ...hardware, modules: [], faults: [], device: { ...hardware.device, serial: '' } };
  const covering = (covered: HarvestPart[], asked: HarvestPart[], adding: HarvestPart[] = []) => ({
    covered: new Set(covered),
    asked: new Set(asked),
    adding: new Set(adding),
  });
  const asked: HarvestPart[] = ['system', 'interfaces', 'modules', 'sensors'];
  const kept = carryOverReport(hardware, broken, covering(['system', 'interfaces'], asked));
  expect([kept.modules, kept.faults, kept.device.serial]).toEqual([hardware.modules, hardware.faults, 'BR1-1']);
  const whole: HarvestPart[] = ['system', 'modules', 'sensors'];
  expect(carryOverReport(hardware, broken, covering(whole, whole)).modules).toEqual([]);
  expect(carryOverReport(undefined, broken, covering(['system'], ['system', 'modules'])).modules).toEqual([]);
  // one page is missing: what came counts, and what did not is not gone
  const [first] = hardware.modules;
  const found = { ...hardware, modules: first ? [{ ...first, path: 'another', name: 'another' }] : [] };
  expect(
    carryOverReport(hardware, found, covering(['system', 'interfaces', 'sensors'], asked, ['modules'])).modules.map(
      ({ name }) => name,
    ),
  ).toEqual(['another', ...hardware.modules.map(({ name }) => name)]);
});
