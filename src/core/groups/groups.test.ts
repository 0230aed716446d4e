import { describe, expect, test } from '@jest/globals';
import { compileFilter } from '../filter/predicate';
import { parseFilter } from '../filter/syntax';
import {
  examineGroup,
  groupsLeaningOn,
  groupsNamed,
  groupsNeeded,
  withGroupsWrittenOut,
  type EstateGroup,
} from './group';
import { maintenanceState } from './maintenance';

const group = (name: string, more: Partial<EstateGroup> = {}): EstateGroup => ({
  name,
  thing: 'devices',
  kind: 'filter',
  where: 'role=switch',
  members: [],
  within: null,
  note: '',
  ...more,
});

describe('groups', () => {
  const ring = group('Ring');
  const north = group('North half', { where: 'site=LQY or site=RPW', within: 'Ring' });
  const uplinks = group('Uplinks', { thing: 'ports', where: 'kind=uplink device.group="north half"' });
  const all = [ring, north, uplinks];
  test('need those that their filter names and those that lie in them', () => {
    expect(groupsNeeded(ring, all)).toEqual([north]);
    expect(groupsNeeded(uplinks, all)).toEqual([north]);
    expect(groupsNamed('-group=A (device.group!="B c" or x)')).toEqual(['A', 'B c']);
    expect([groupsLeaningOn(north, all), groupsLeaningOn(ring, all)]).toEqual([['Uplinks'], ['North half']]);
  });
  test('may not go round in a circle, over whatever ways', () => {
    for (const one of all) expect(() => examineGroup(one, all)).not.toThrow();
    const round = { ...ring, where: 'group="Odd ones"' };
    const odd = group('Odd ones', { where: '-group="North half"' });
    const northAgain = { ...north, where: 'port.group=Uplinks' };
    expect(() => examineGroup(odd, [round, north, uplinks, odd])).not.toThrow();
    expect(() => examineGroup(northAgain, [ring, northAgain, uplinks])).toThrow('North half → Uplinks → North half');
    expect(() => examineGroup({ ...ring, within: 'North half' }, [{ ...ring, within: 'North half' }, north])).toThrow(
      'circle',
    );
    expect(() => examineGroup({ ...ring, within: 'Ring' }, all)).toThrow('itself');
  });
  test.each([
    [{ where: 'group:Rin' }, 'whole name'],
    [{ where: 'group=Nowhere' }, 'no group “Nowhere”'],
    [{ within: 'Nowhere' }, 'no group “Nowhere”'],
    [{ within: 'Uplinks' }, 'a group of ports'],
    [{ where: 'group=Trial' }, 'itself'],
    [{ where: 'role=switch -maintenance=yes' }, 'depend on maintenance'],
    [{ thing: 'ports' as const, where: 'device.maintenanceUntil!=""' }, 'depend on maintenance'],
  ])('%j is refused', (more, words) => {
    const trial = group('Trial', more);
    expect(() => examineGroup(trial, [...all, trial])).toThrow(words);
  });
});

test('written out, a filter with groups holds what their filters hold, and those that are named', () => {
  const groups = [
    group('Ring', { where: 'role=switch' }),
    group('Odd', { kind: 'fixed', members: ['7'], within: 'Ring' }),
    group('Both', { where: 'group=Ring -site=SGH' }),
  ];
  const holds = (where: string, row: object) =>
    compileFilter<object>(
      withGroupsWrittenOut(parseFilter(where), groups),
      ['id', 'role', 'site'].map((name) => ({ name, kind: 'text' as const })),
    )(row);
  const [own, other, odd] = [
    { id: '1', role: 'switch', site: 'LQY' },
    { id: '2', role: 'server', site: 'LQY' },
    { id: '7', role: 'camera', site: 'SGH' },
  ];
  expect([
    holds('group=ring', own),
    holds('group=ring', other),
    holds('group=ring', odd),
    holds('group=Both', own),
    holds('group=Both', odd),
    holds('group!=Ring', other),
    holds('site=LQY -group=Odd', own),
  ]).toEqual([true, false, true, true, false, true, true]);
  expect(() => withGroupsWrittenOut(parseFilter('group=None'), groups)).toThrow('no group of devices');
  expect(() => withGroupsWrittenOut(parseFilter('group:Rin'), groups)).toThrow('whole name');
});

test('maintenance begins with its first instant and is over at its end', () => {
  const time = { from: '2026-11-28T22:00:00.000Z', until: '2026-11-29T02:00:00.000Z' };
  expect(
    ['2026-11-28T21:59:59Z', '2026-11-28T22:00:00Z', '2026-11-29T01:59:59Z', '2026-11-29T02:00:00Z'].map((at) =>
      maintenanceState(time, at),
    ),
  ).toEqual(['planned', 'now', 'now', 'over']);
  expect(maintenanceState({ ...time, until: null }, '2030-01-01T00:00:00Z')).toBe('now');
});
