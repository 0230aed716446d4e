import { describe, expect, test } from '@jest/globals';
import { interpretRedfish } from './redfish';
import type { Json } from './json';

const context = { address: '10.72.2.11', credential: 'hardware' };
const link = (path: string) => ({ '@odata.id': `/redfish/v1${path}` });
const told = (given: Record<string, Json>, gaps: { path: string; property: string; reason: string }[] = []) =>
  interpretRedfish(
    { resources: new Map(Object.entries(given).map(([path, value]) => [`/redfish/v1${path}`, value])), gaps },
    context,
  );
const least = {
  '/Systems': { Members: [link('/Systems/1')] },
  '/Systems/1': { HostName: 'sgh-srv-01', EthernetInterfaces: link('/Systems/1/EthernetInterfaces') },
  '/Systems/1/EthernetInterfaces': { Members: [link('/Systems/1/EthernetInterfaces/1')] },
  '/Systems/1/EthernetInterfaces/1': { Id: 'eth0', MACAddress: '02:00:00:00:00:01' },
  '/Chassis': { Members: [link('/Chassis/1')] },
  '/Chassis/1': { Name: 'enclosure', NetworkAdapters: link('/Chassis/1/NetworkAdapters') },
  '/Chassis/1/NetworkAdapters': { Members: [link('/Chassis/1/NetworkAdapters/A')] },
  '/Chassis/1/NetworkAdapters/A': { Id: 'A', Name: 'adapter', Ports: link('/Chassis/1/NetworkAdapters/A/Ports') },
  '/Chassis/1/NetworkAdapters/A/Ports': {
    Members: [link('/Chassis/1/NetworkAdapters/A/Ports/1'), link('/Chassis/1/NetworkAdapters/A/Ports/2')],
  },
  '/Chassis/1/NetworkAdapters/A/Ports/1': {
    PortId: '1',
    LinkStatus: 'LinkUp',
    CurrentSpeedGbps: 25,
    Ethernet: {
      AssociatedMACAddresses: ['02-00-00-00-00-01'],
      LLDPReceive: {
        ChassisId: '02-00-00-00-0A-0A',
        ChassisIdSubtype: 'MacAddr',
        PortId: 'U7',
        PortIdSubtype: 'IfName',
        ManagementAddressIPv4: '10.72.0.9',
      },
    },
  },
  '/Chassis/1/NetworkAdapters/A/Ports/2': {
    PortId: '2',
    LinkStatus: 'LinkDown',
    LinkNetworkTechnology: 'FibreChannel',
    Ethernet: { AssociatedMACAddresses: ['00:00:00:00:00:00'] },
  },
} satisfies Record<string, Json>;

describe('sockets of network adapters (DSP0268, Port)', () => {
  test('one that the system tells an interface of is that interface; any other stands for itself', () => {
    expect(
      told(least)?.report.ports.map(({ name, type, oper, speedBps, mac }) => [name, type, oper, speedBps, mac]),
    ).toEqual([
      ['eth0', 'ethernet', 'up', 25e9, '02:00:00:00:00:01'],
      ['A 2', 'fibre channel', 'down', null, null],
    ]);
  });
  test('tell whom they hear (LLDPReceive)', () => {
    const answer = told(least);
    expect(answer?.report.neighbours).toEqual([
      {
        port: 'eth0',
        chassisId: '02:00:00:00:0a:0a',
        chassisIdSubtype: 'macAddress',
        portId: 'U7',
        portIdSubtype: 'interfaceName',
        portDescription: '',
        systemName: '',
        systemDescription: '',
        capabilities: [],
        managementAddresses: ['10.72.0.9'],
      },
    ]);
    expect(answer?.parts.lldp?.state).toBe('whole');
  });
});

test('metrics of supplies and chassis, and sensors where the chassis lists them', () => {
  const answer = told({
    ...least,
    '/Chassis/1': { Name: 'enclosure', Sensors: link('/Chassis/1/Sensors'), EnvironmentMetrics: link('/Chassis/1/E') },
    '/Chassis/1/Sensors': { Members: [link('/Chassis/1/Sensors/t')] },
    '/Chassis/1/Sensors/t': { Name: 'inlet', ReadingType: 'Temperature', Reading: 23.5 },
    '/Chassis/1/E': { PowerWatts: { Reading: 310 } },
    '/Supplies/1': { Name: 'supply 1', Metrics: link('/Supplies/1/Metrics') },
    '/Supplies/1/Metrics': { InputPowerWatts: { Reading: 155 } },
  });
  expect(answer?.report.volatile.sensors).toEqual([
    { name: 'inlet', type: 'celsius', unit: '°C', value: 23.5, state: 'ok' },
    { name: 'supply 1 input power', type: 'watts', unit: 'W', value: 155, state: 'ok' },
  ]);
});

test('volumes that are not well are faults; cards that are adapters already are not told twice', () => {
  const answer = told({
    ...least,
    '/Systems/1': { HostName: 'sgh-srv-01', Storage: link('/Systems/1/Storage') },
    '/Systems/1/Storage': { Members: [link('/Systems/1/Storage/1')] },
    '/Systems/1/Storage/1': { Volumes: link('/Systems/1/Storage/1/Volumes') },
    '/Systems/1/Storage/1/Volumes': { Members: [link('/Systems/1/Storage/1/Volumes/1')] },
    '/Systems/1/Storage/1/Volumes/1': {
      Name: 'data',
      CapacityBytes: 2e12,
      RAIDType: 'RAID1',
      Status: { Health: 'Warning', State: 'Enabled' },
    },
    '/Chassis/1': {
      Name: 'enclosure',
      NetworkAdapters: link('/Chassis/1/NetworkAdapters'),
      PCIeDevices: link('/Chassis/1/PCIeDevices'),
    },
    '/Chassis/1/PCIeDevices': { Members: [link('/Chassis/1/PCIeDevices/1'), link('/Chassis/1/PCIeDevices/2')] },
    '/Chassis/1/PCIeDevices/1': { Name: 'adapter' },
    '/Chassis/1/PCIeDevices/2': { Name: 'accelerator', SerialNumber: 'BRA-7' },
  });
  expect(answer?.report.faults).toMatchObject([{ subsystem: 'storage', severity: 'warning' }]);
  expect(answer?.report.modules.map(({ name, description }) => [name, description])).toEqual([
    ['sgh-srv-01', ''],
    ['data', 'volume, 2000 GB, RAID1'],
    ['adapter', ''],
    ['accelerator', ''],
  ]);
});

test('a service that speaks for a distributor of power', () => {
  const answer = told({
    '': { PowerEquipment: link('/PowerEquipment') },
    '/PowerEquipment': { RackPDUs: link('/PowerEquipment/RackPDUs') },
    '/PowerEquipment/RackPDUs': { Members: [link('/PowerEquipment/RackPDUs/1')] },
    '/PowerEquipment/RackPDUs/1': {
      Id: '1',
      Manufacturer: 'Fenmoor',
      Model: 'F-Strip 24',
      SerialNumber: 'FEN-24-0071',
      FirmwareVersion: '3.1',
    },
  });
  expect(answer?.report.device).toMatchObject({
    role: 'power',
    vendor: 'Fenmoor',
    model: 'F-Strip 24',
    serial: 'FEN-24-0071',
    release: '3.1',
  });
});

describe('a page that is missing', () => {
  test('costs that page: what was read of its part counts', () => {
    const gaps = [{ path: '/redfish/v1/Chassis/1/NetworkAdapters/B', property: 'NetworkAdapters', reason: 'broken' }];
    expect(told(least, gaps)?.parts.modules).toMatchObject({ state: 'failed', addsUp: true });
  });
  test('but where parts are told apart by how many there are nobody knows which is which', () => {
    const twice = {
      ...least,
      '/Chassis/1/NetworkAdapters': {
        Members: [link('/Chassis/1/NetworkAdapters/A'), link('/Chassis/1/NetworkAdapters/C')],
      },
      '/Chassis/1/NetworkAdapters/C': { Id: 'C', Name: 'adapter' },
    };
    const gaps = [{ path: '/redfish/v1/Chassis/1/NetworkAdapters/B', property: 'NetworkAdapters', reason: 'broken' }];
    expect(told(twice, gaps)?.parts.modules).not.toHaveProperty('addsUp');
  });
});
