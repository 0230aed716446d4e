import { describe, expect, test } from '@jest/globals';
import type { ThingRow } from '../lib/api';
import { colouredBy } from './colourBy';

const port = (name: string, more: Partial<ThingRow> = {}): ThingRow => ({
  id: `1:${name}`,
  name,
  oper: 'up',
  admin: 'up',
  vlan: 30,
  speedBps: 1e9,
  lastChangeSeconds: 60,
  poe: null,
  stp: null,
  machines: 1,
  ...more,
});

describe('colours', () => {
  test('go to the commonest values, each with its count and the filter that finds it', () => {
    const { groups, marks } = colouredBy(
      [port('1'), port('2'), port('3', { vlan: 10 }), port('4', { vlan: null })],
      'VLAN',
    );
    expect(groups.map(({ words, count, where }) => [words, count, where])).toEqual([
      ['VLAN 30', 2, 'vlan=30'],
      ['VLAN 10', 1, 'vlan=10'],
    ]);
    expect([...marks]).toEqual([
      ['1:1', { text: '30', group: 0 }],
      ['1:2', { text: '30', group: 0 }],
      ['1:3', { text: '10', group: 1 }],
    ]);
    expect(new Set(groups.map(({ colour }) => colour)).size).toBe(2);
  });
  test.each([
    ['speed', { speedBps: 1e8 }, '100M', 'oper=up speed=100000000'],
    ['speed', { oper: 'down' }, null, ''],
    ['power', { poe: { enabled: true, state: 'delivering', class: 3 } }, 'c3', 'power:delivering'],
    ['power', { poe: { enabled: false, state: 'disabled', class: null } }, 'off', 'power="switched off"'],
    ['power', { poe: { enabled: true, state: 'fault', class: null } }, '!', 'power:fault'],
    ['power', {}, null, ''],
    [
      'idle time',
      { oper: 'down', lastChangeSeconds: 40 * 86_400 },
      '40d',
      'oper!=up lastChangeSeconds>=30d lastChangeSeconds<365d',
    ],
    ['idle time', {}, null, ''],
    ['machines', { machines: 5 }, '5', 'machines>4 machines<=16'],
    ['machines', { machines: 0 }, null, ''],
    ['spanning tree', { stp: { state: 'blocking', role: 'alternate' } }, 'alte', 'stpRole=alternate stpState=blocking'],
    ['errors', { errors: 4182 }, '4k', 'errors>=100'],
    ['errors', { errors: 7 }, '7', 'errors>0 errors<100'],
    ['errors', { errors: null }, null, ''],
    ['change', { change: 'added' }, '+', 'change=added'],
    ['change', {}, null, ''],
    ['state', {}, null, ''],
  ] as const)('by %s, a port with %j says %s', (by, more, text, where) => {
    const { marks, groups } = colouredBy([port('1', more as Partial<ThingRow>)], by);
    expect([marks.get('1:1')?.text ?? null, groups[0]?.where ?? '']).toEqual([text, where]);
  });
});
