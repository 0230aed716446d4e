import { expect, test } from '@jest/globals';
import { chassisPlans, type BayPart } from './bays';

const part = (path: string, partClass: string, position = 0, more: Partial<BayPart> = {}): BayPart => {
  const names = path.split(' / ');
  return {
    id: path,
    path,
    name: names.at(-1) ?? '',
    class: partClass,
    parent: names.length > 1 ? names.slice(0, -1).join(' / ') : null,
    position,
    empty: false,
    holds: '',
    ...more,
  };
};
const told = (modules: BayPart[]) =>
  chassisPlans(modules).map(
    ({ name, rows }) =>
      `${name}: ${rows.map(({ kind, on, bays }) => `${kind}${on ? ` on ${on.split(' / ').at(-1) ?? ''}` : ''} ${bays.map(({ label, empty }) => `${label}${empty ? '-' : ''}`).join(' ')}`).join('; ')}`,
  );

test('cards, supplies and cages stand in the order of their places, empty ones too', () => {
  expect(
    told([
      part('core', 'chassis'),
      part('core / Slot 2', 'container', 2),
      part('core / Slot 2 / Card', 'module', 1),
      part('core / Slot 1', 'container', 1),
      part('core / Slot 1 / Supervisor A', 'module', 1),
      part('core / Slot 5', 'container', 5, { empty: true, holds: 'module' }),
      part('core / Supply 1', 'powerSupply', 11),
      part('core / Supply bay 2', 'container', 12, { empty: true, holds: 'powerSupply' }),
      part('core / Inlet temperature', 'sensor', 5001),
      part('core / Slot 2 / Card / Cage U1', 'container', 1),
      part('core / Slot 2 / Card / Cage U1 / Transceiver', 'transceiver', 1),
    ]),
  ).toEqual(['core: module 1 2 5-; powerSupply 1 2-; transceiver on Card U1']);
});

test('each chassis of a stack has a plan of its own; a device that tells no modules has none', () => {
  expect(
    told([
      part('s', 'stack'),
      part('s / Unit 1', 'chassis', 1),
      part('s / Unit 1 / Fan', 'fan', 1),
      part('s / Unit 2', 'chassis', 2),
      part('s / Unit 2 / DIMM 3', 'container', 3, { empty: true, holds: 'memory' }),
    ]),
  ).toEqual(['Unit 1: fan Fan', 'Unit 2: memory 3-']);
  expect(told([part('x', 'chassis')])).toEqual([]);
  expect(
    told([
      part('x', 'chassis'),
      part('x / Bay 2', 'container', 2, { empty: true }),
      part('x / Slot 3', 'container', 3, { empty: true }),
    ]),
  ).toEqual(['x: module 3-; other 2-']);
});
