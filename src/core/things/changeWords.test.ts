import { describe, expect, test } from '@jest/globals';
import { changeValue, fieldWord, thingOfChange } from './changeWords';
import { things, thingNames } from './things';

describe('a change in words', () => {
  test('a field is called as its table heads it', () => {
    expect([
      fieldWord('device', 'memoryBytes'),
      fieldWord('port', 'lag'),
      fieldWord('link', 'issues'),
      fieldWord('device', 'bootRelease'),
    ]).toEqual(['memory', 'LAG', 'findings', 'boot release']);
  });
  test('a value has its unit', () => {
    expect([
      changeValue('device', 'memoryBytes', 512 * 1024 ** 2),
      changeValue('port', 'speedBps', 1e10),
      changeValue('port', 'mtu', 9216),
    ]).toEqual(['512 MB', '10G', '9216']);
  });
  test('lists and parts are told by what they hold, nothing by nothing', () => {
    expect(changeValue('port', 'taggedVlans', [10, 20])).toBe('10, 20');
    expect(
      changeValue('link', 'issues', [
        { kind: 'duplex', words: 'duplex differs' },
        { kind: 'mtu', words: 'MTU differs' },
      ]),
    ).toBe('duplex differs, MTU differs');
    expect(changeValue('port', 'stp', { state: 'forwarding', role: 'root' })).toBe('forwarding root');
    expect([null, undefined, ''].map((value) => changeValue('device', 'name', value))).toEqual(['', '', '']);
  });
});

test('an id of a change names what changed, blanks in it and all', () => {
  expect(thingOfChange('8 port duplex 54:Eth 3')).toEqual({ thing: 'ports', id: '54:Eth 3' });
  expect(thingOfChange('8 module removed 7:box / Slot 1')).toEqual({ thing: 'modules', id: '7:box / Slot 1' });
  expect([thingOfChange('12'), thingOfChange('8 moon phase 3')]).toEqual([null, null]);
});

describe('the fields of things', () => {
  test.each(thingNames)('%s: each named once, with a heading, shown columns that fit a small screen', (name) => {
    const { fields, order } = things[name];
    expect(new Set(fields.map((field) => field.name)).size).toBe(fields.length);
    expect(fields.every(({ label, topic, width }) => label !== '' && topic !== '' && width >= 50)).toBe(true);
    expect(fields.some((field) => field.shown)).toBe(true);
    if (name !== 'links') expect(fields.map((field) => field.name)).toContain(order);
  });
});
