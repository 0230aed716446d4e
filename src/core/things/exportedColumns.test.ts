import { expect, test } from '@jest/globals';
import { exportedColumns } from './exportedColumns';
import { things } from './things';

const columnsOf = (...names: string[]) => exportedColumns(things.devices.fields, names);

test('columns are headed as they are shown, in their order, with the unit of their numbers', () => {
  expect(columnsOf('memoryBytes', 'name', 'uptimeSeconds', 'firstSeen', 'nothing').map(({ head }) => head)).toEqual([
    'Memory (MB)',
    'Name',
    'Up for (days)',
    'First seen (UTC)',
  ]);
  expect(exportedColumns(things.ports.fields, ['speedBps']).map(({ head }) => head)).toEqual(['Speed (Mbit/s)']);
});

test('cells have types: numbers in one unit, moments, yes or no, words as they are shown', () => {
  const put = (field: string, value: unknown) => columnsOf(field)[0]?.value(value);
  expect([put('memoryBytes', 512 * 1024 ** 2), put('uptimeSeconds', 129_600), put('role', 'access-point')]).toEqual([
    512,
    1.5,
    'access point',
  ]);
  expect(put('firstSeen', '2026-10-05T06:00:00.000Z')).toEqual(new Date('2026-10-05T06:00:00Z'));
  expect([put('maintenance', true), put('memoryBytes', null), put('addresses', ['10.72.0.1', '10.72.0.2'])]).toEqual([
    true,
    null,
    '10.72.0.1, 10.72.0.2',
  ]);
  expect([put('name', '=SUM(1,2)'), put('firstSeen', 'never'), put('addresses', [])]).toEqual([
    '=SUM(1,2)',
    'never',
    null,
  ]);
});

test('two columns of one heading are told apart', () => {
  const [field] = things.devices.fields;
  if (!field) throw new Error('no fields');
  const twins = exportedColumns([field, { ...field, name: 'other' }], [field.name, 'other']);
  expect(twins.map(({ head }) => head)).toEqual(['Name (name)', 'Name (other)']);
});
