import { expect, test } from '@jest/globals';
import { slotKinds } from './slotKinds';

const part = (path: string, partClass: string, empty = false) => {
  const names = path.split(' / ');
  return {
    path,
    name: names.at(-1) ?? '',
    class: partClass,
    parent: names.length > 1 ? names.slice(0, -1).join(' / ') : null,
    empty,
  };
};

test('an empty slot is for what its neighbours of the same name hold', () => {
  const kinds = slotKinds([
    part('c', 'chassis'),
    part('c / DIMM 1', 'memory'),
    part('c / DIMM 5', 'container', true),
    part('c / Drive 1', 'drive'),
    part('c / Drive 3', 'container', true),
    part('c / Supply bay 1', 'container'),
    part('c / Supply bay 1 / Supply', 'powerSupply'),
    part('c / Supply bay 2', 'container', true),
    part('c / Slot 1', 'container'),
    part('c / Slot 1 / Card', 'module'),
    part('c / Slot 7', 'container', true),
    part('c / Cage', 'container', true),
    part('c / Fan 1', 'fan'),
    part('c / Fan bay 2', 'container', true),
  ]);
  expect(Object.fromEntries(kinds)).toEqual({
    'c / DIMM 5': 'memory',
    'c / Drive 3': 'drive',
    'c / Supply bay 2': 'powerSupply',
    'c / Slot 7': 'module',
    'c / Fan bay 2': 'fan',
  });
});
