import { describe, expect, test } from '@jest/globals';
import { faceplateRows, neighbourSocket } from './faceplateRows';

const port = (name: string) => ({ name });
const numbered = (prefix: string, count: number) =>
  Array.from({ length: count }, (_, at) => port(`${prefix}${at + 1}`));
const shape = (ports: { name: string }[], plan: Parameters<typeof faceplateRows>[1] = null) =>
  faceplateRows(ports, plan).map(({ label, blocks }) => [
    label,
    blocks.map(({ ports: members, two }) => `${members.length}${two ? ' in two' : ''}`),
  ]);

describe('a faceplate', () => {
  test('of one switch is one line in groups; its cages stand apart', () => {
    expect(shape([...numbered('', 24), ...numbered('U', 4)])).toEqual([['', ['12 in two', '12 in two', '4']]]);
    expect(shape(numbered('', 12), { rows: 1, groupOf: 6 })).toEqual([['', ['6', '6']]]);
  });
  test('of a chassis has a line for each card, of a stack one for each unit, in their order', () => {
    expect(shape([...numbered('10/', 8), ...numbered('3/', 48), port('mgmt0')])).toEqual([
      ['3', ['12 in two', '12 in two', '12 in two', '12 in two']],
      ['10', ['8']],
      ['', ['1']],
    ]);
    expect(shape([...numbered('1/0/', 2), ...numbered('2/0/', 2)])).toEqual([
      ['1', ['2']],
      ['2', ['2']],
    ]);
    // one unit alone is no stack
    expect(shape([...numbered('1/', 3)])).toEqual([['', ['3']]]);
  });
  test('is walked with the arrows: along a line, within a pair, from line to line', () => {
    const rows = faceplateRows([...numbered('3/', 24), ...numbered('4/', 8)], null);
    const go = (from: string, key: string) => neighbourSocket(rows, from, key)?.name ?? null;
    expect([
      go('3/1', 'ArrowRight'),
      go('3/1', 'ArrowDown'),
      go('3/2', 'ArrowUp'),
      go('3/2', 'ArrowDown'),
      go('4/1', 'ArrowRight'),
      go('4/3', 'ArrowUp'),
      go('3/5', 'End'),
      go('3/5', 'Home'),
      go('3/1', 'ArrowLeft'),
      go('nowhere', 'Home'),
      go('3/1', 'a'),
    ]).toEqual(['3/3', '3/2', '3/1', '4/2', '4/2', '3/3', '3/24', '3/1', null, null, null]);
  });
});
