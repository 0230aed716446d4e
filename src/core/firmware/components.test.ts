import { expect, test } from '@jest/globals';
import type { ModuleFacts } from '../estate/facts';
import { componentsOf } from './components';

const device = {
  model: 'K-Core 8',
  serial: 'KC-1',
  release: '7.6.2',
  bootRelease: '5.0',
  bootImage: 'k-core-7.6.4.img',
};
const module = (path: string, more: Partial<ModuleFacts>): ModuleFacts => ({
  path,
  class: 'module',
  name: path.split(' / ').at(-1) ?? '',
  description: '',
  vendor: '',
  model: '',
  serial: '',
  hardwareRevision: '',
  firmwareRevision: '',
  softwareRevision: '',
  replaceable: true,
  position: 1,
  parent: path.includes(' / ') ? path.slice(0, path.lastIndexOf(' / ')) : null,
  empty: false,
  order: 1,
  ...more,
});
const told = (...given: Parameters<typeof componentsOf>) =>
  componentsOf(...given).map(({ kind, name, release }) => [kind, name, release]);

test('a device tells its system and its boot code, and what it boots next', () => {
  const [system] = componentsOf(device, [], []);
  expect(system).toMatchObject({ kind: 'system', release: '7.6.2', nextImage: 'k-core-7.6.4.img', serial: 'KC-1' });
  expect(told(device, [], [])).toEqual([
    ['system', '', '7.6.2'],
    ['boot code', '', '5.0'],
  ]);
  expect(told({ ...device, release: '', bootRelease: '' }, [], [])).toEqual([]);
});

test('supervisors, line cards and members of a stack by what holds what and what they hold', () => {
  const modules = [
    module('stack', { class: 'stack' }),
    module('stack / unit 1', { class: 'chassis', softwareRevision: '7.4.9' }),
    module('stack / unit 2', { class: 'chassis', softwareRevision: '7.4.12b' }),
    module('stack / unit 1 / slot 1', { softwareRevision: '7.4.9', firmwareRevision: '3.2' }),
    module('stack / unit 1 / slot 1 / processor', { class: 'cpu' }),
    module('stack / unit 1 / slot 2', { firmwareRevision: '1.7' }),
    module('stack / unit 1 / slot 3', { class: 'container', empty: true, firmwareRevision: '1.7' }),
    module('stack / unit 1 / supply 1', { class: 'powerSupply', firmwareRevision: '2.0' }),
  ];
  expect(told(device, modules, []).slice(1, -1)).toEqual([
    ['stack member', 'unit 1', '7.4.9'],
    ['stack member', 'unit 2', '7.4.12b'],
    ['supervisor', 'slot 1', '7.4.9'],
    ['boot code', 'slot 1', '3.2'],
    ['line card', 'slot 2', '1.7'],
    ['power supply', 'supply 1', '2.0'],
  ]);
});

test('the first chassis is the device itself: it tells the release only where nothing else does', () => {
  const chassis = module('chassis', { class: 'chassis', softwareRevision: '9.1' });
  expect(told(device, [chassis], []).filter(([kind]) => kind === 'system')).toEqual([['system', '', '7.6.2']]);
  expect(told({ ...device, release: '' }, [chassis], [])[0]).toEqual(['system', 'chassis', '9.1']);
});

test('what a management controller lists, what lies there in standby, and nothing twice', () => {
  const firmware = (name: string, version: string) => ({ name, version, kind: 'firmware' as const });
  const interfaces = [{ kind: 'redfish' as const, address: '10.72.2.11', credential: 'bmc', release: '3.11' }];
  const modules = [module('chassis / Storage controller', { firmwareRevision: '4.1.7' })];
  const software = [
    firmware('BIOS', '2.14.1'),
    firmware('BIOS, standby', '2.13.0'),
    firmware('Storage controller', '4.1.7'),
    firmware('Network adapter', '21.4.2'),
    { name: 'tallydb', version: '9.4', kind: 'application' as const },
  ];
  const server = { ...device, release: '6.1.5', bootRelease: '2.14.1', interfaces };
  expect(told(server, modules, software)).toEqual([
    ['system', '', '6.1.5'],
    ['storage controller', 'Storage controller', '4.1.7'],
    ['BIOS', 'BIOS', '2.14.1'],
    ['network adapter', 'Network adapter', '21.4.2'],
    // it lists no controller: the way in tells its release
    ['management controller', '', '3.11'],
  ]);
  expect(componentsOf(server, modules, software).find(({ kind }) => kind === 'BIOS')?.standbyRelease).toBe('2.13.0');
  // without a list the boot code that is told is the BIOS
  expect(told(server, [], []).map(([kind]) => kind)).toEqual(['system', 'BIOS', 'management controller']);
});
