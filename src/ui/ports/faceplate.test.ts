import { describe, expect, test } from '@jest/globals';
import type { ThingRow } from '../kit/api';
import { colouredBy } from './colourBy';
import { faceplateRows, neighbourSocket } from './faceplateRows';

const port = (name: string, more: Partial<ThingRow> = {}): ThingRow => ({ id: `1:${name}`, name, oper: 'up', admin: 'up', vlan: 30, speedBps: 1e9, lastChangeSeconds: 60, poe: null, stp: null, machines: 1, ...more });
const numbered = (prefix: string, count: number) => Array.from({ length: count }, (_, at) => port(`${prefix}${at + 1}`));
const shape = (ports: ThingRow[], plan: Parameters<typeof faceplateRows>[1] = null) => faceplateRows(ports, plan).map(({ label, blocks }) => [label, blocks.map(({ ports: members, two }) => `${members.length}${two ? ' in two' : ''}`)]);

describe('a faceplate', () => {
  test('of one switch is one line in groups; its cages stand apart', () => {
    expect(shape([...numbered('', 24), ...numbered('U', 4)])).toEqual([['', ['12 in two', '12 in two', '4']]]);
    expect(shape(numbered('', 12), { rows: 1, groupOf: 6 })).toEqual([['', ['6', '6']]]);
  });
  test('of a chassis has a line for each card, of a stack one for each unit, in their order', () => {
    expect(shape([...numbered('10/', 8), ...numbered('3/', 48), port('mgmt0')])).toEqual([['3', ['12 in two', '12 in two', '12 in two', '12 in two']], ['10', ['8']], ['', ['1']]]);
    expect(shape([...numbered('1/0/', 2), ...numbered('2/0/', 2)])).toEqual([['1', ['2']], ['2', ['2']]]);
    // one unit alone is no stack
    expect(shape([...numbered('1/', 3)])).toEqual([['', ['3']]]);
  });
  test('is walked with the arrows: along a line, within a pair, from line to line', () => {
    const rows = faceplateRows([...numbered('3/', 24), ...numbered('4/', 8)], null);
    const go = (from: string, key: string) => neighbourSocket(rows, from, key)?.name ?? null;
    expect([go('3/1', 'ArrowRight'), go('3/1', 'ArrowDown'), go('3/2', 'ArrowUp'), go('3/2', 'ArrowDown'), go('4/1', 'ArrowRight'), go('4/3', 'ArrowUp'), go('3/5', 'End'), go('3/5', 'Home'), go('3/1', 'ArrowLeft'), go('nowhere', 'Home'), go('3/1', 'a')]).toEqual(['3/3', '3/2', '3/1', '4/2', '4/2', '3/3', '3/24', '3/1', null, null, null]);
  });
});

describe('colours', () => {
  test('go to the commonest values, each with its count and the filter that finds it', () => {
    const { groups, marks } = colouredBy([port('1'), port('2'), port('3', { vlan: 10 }), port('4', { vlan: null })], 'VLAN');
    expect(groups.map(({ words, count, where }) => [words, count, where])).toEqual([['VLAN 30', 2, 'vlan=30'], ['VLAN 10', 1, 'vlan=10']]);
    expect([...marks]).toEqual([['1:1', { text: '30', group: 0 }], ['1:2', { text: '30', group: 0 }], ['1:3', { text: '10', group: 1 }]]);
    expect(new Set(groups.map(({ colour }) => colour)).size).toBe(2);
  });
  test.each([
    ['speed', { speedBps: 1e8 }, '100M', 'oper=up speed=100000000'], ['speed', { oper: 'down' }, null, ''],
    ['power', { poe: { enabled: true, state: 'delivering', class: 3 } }, 'c3', 'power:delivering'], ['power', { poe: { enabled: false, state: 'disabled', class: null } }, 'off', 'power="switched off"'], ['power', { poe: { enabled: true, state: 'fault', class: null } }, '!', 'power:fault'], ['power', {}, null, ''],
    ['idle time', { oper: 'down', lastChangeSeconds: 40 * 86_400 }, '40d', 'oper!=up lastChangeSeconds>=30d lastChangeSeconds<365d'], ['idle time', {}, null, ''],
    ['machines', { machines: 5 }, '5', 'machines>4 machines<=16'], ['machines', { machines: 0 }, null, ''],
    ['spanning tree', { stp: { state: 'blocking', role: 'alternate' } }, 'alte', 'stpRole=alternate stpState=blocking'], ['errors', { errors: 4182 }, '4k', 'errors>=100'], ['errors', { errors: 7 }, '7', 'errors>0 errors<100'], ['errors', { errors: null }, null, ''], ['change', { change: 'added' }, '+', 'change=added'], ['change', {}, null, ''], ['state', {}, null, ''],
  ] as const)('by %s, a port with %j says %s', (by, more, text, where) => {
    const { marks, groups } = colouredBy([port('1', more as Partial<ThingRow>)], by);
    expect([marks.get('1:1')?.text ?? null, groups[0]?.where ?? '']).toEqual([text, where]);
  });
});
