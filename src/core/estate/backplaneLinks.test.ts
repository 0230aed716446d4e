import { expect, test } from '@jest/globals';
import { backplaneLinks } from './backplaneLinks';
import type { ModuleClass, ModuleFacts } from './facts';

const part = (path: string, kind: ModuleClass): ModuleFacts => ({
  path,
  class: kind,
  name: path.split(' / ').at(-1) ?? '',
  description: '',
  vendor: '',
  model: '',
  serial: '',
  hardwareRevision: '',
  firmwareRevision: '',
  softwareRevision: '',
  replaceable: true,
  position: 0,
  parent: path.includes(' / ') ? path.slice(0, path.lastIndexOf(' / ')) : null,
  empty: false,
  order: 0,
});
const said = (modules: ModuleFacts[]) =>
  backplaneLinks('core', modules).map(({ a, b, kind }) => `${a.port} – ${b.port} ${kind}`);

test('cards meet on the backplane of their chassis, whether their slots are of the chassis or of the backplane; what sits in a card does not', () => {
  expect(
    said([
      part('c', 'chassis'),
      part('c / backplane', 'backplane'),
      part('c / slot 1', 'container'),
      part('c / slot 1 / card 1', 'module'),
      part('c / slot 1 / card 1 / bay', 'container'),
      part('c / slot 1 / card 1 / bay / sub', 'module'),
      part('c / backplane / slot 2', 'container'),
      part('c / backplane / slot 2 / card 2', 'module'),
      part('c / supply', 'powerSupply'),
    ]),
  ).toEqual(['backplane – card 1 stack', 'backplane – card 2 stack']);
});

test('each chassis of a stack has its own, and one that tells of no backplane has none', () => {
  const chassis = (name: string) => [
    part(name, 'chassis'),
    part(`${name} / plane of ${name}`, 'backplane'),
    part(`${name} / slot`, 'container'),
    part(`${name} / slot / card of ${name}`, 'module'),
  ];
  expect(said([...chassis('unit 1'), ...chassis('unit 2')])).toEqual([
    'plane of unit 1 – card of unit 1 stack',
    'plane of unit 2 – card of unit 2 stack',
  ]);
  expect(said([part('c', 'chassis'), part('c / slot 1', 'container'), part('c / slot 1 / card 1', 'module')])).toEqual(
    [],
  );
});
