import { describe, expect, test } from '@jest/globals';
import { thingPath } from './api';
import { cellText, day, moment } from './format';

describe('a value in a cell', () => {
  test.each([
    [512 * 1024 ** 2, 'bytes', '512 MB'],
    [1e10, 'bitsPerSecond', '10G'],
    [0, 'bitsPerSecond', ''],
    [7200, 'seconds', '2 h'],
    [0, 'number', '0'],
    [true, 'boolean', 'yes'],
    [false, 'boolean', ''],
    [null, 'text', ''],
    [undefined, 'bytes', ''],
    ['', 'date', ''],
    [[10, 30], 'number', '10, 30'],
    [['10.72.4.2', '10.72.4.251'], 'address', '10.72.4.2, 10.72.4.251'],
    [{ a: 1 }, 'text', '{"a":1}'],
  ] as const)('%p as %s reads “%s”', (value, kind, expected) => expect(cellText(value, kind)).toBe(expected));
  test('moments are local, short, and empty where there is none', () => {
    const local = new Date(2026, 10, 23, 6, 0).toISOString();
    expect([moment(local), day(local), cellText(local, 'date'), moment('')]).toEqual([
      'Mon 23 Nov, 06:00',
      '23 Nov',
      'Mon 23 Nov, 06:00',
      '',
    ]);
  });
});

describe('the request of a table', () => {
  test('leaves out what is not asked, and keeps what a filter may hold', () => {
    expect(thingPath('devices', {})).toBe('devices');
    expect(thingPath('devices', { where: '', survey: null, columns: [], page: 1 })).toBe('devices?page=1');
    expect(
      new URLSearchParams(
        thingPath('ports', { where: 'name="a & b" or speed>1G', columns: ['name', 'vlan'] }).split('?')[1],
      ).get('where'),
    ).toBe('name="a & b" or speed>1G');
    expect(thingPath('ports', { columns: ['name', 'vlan'] })).toBe('ports?columns=name%2Cvlan');
  });
});
