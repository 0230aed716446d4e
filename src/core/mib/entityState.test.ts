import { describe, expect, test } from '@jest/globals';
import { faultsOf } from '../estate/interpretFaults';
import type { PhysicalRow } from './entity';
import { entityTables, parsePhysical } from './entity';
import { entityStateTables, parseEntityStates } from './entityState';
import { integer, octets, rows, text } from './testVarbinds';

/** RFC 4268: administrative 2 locked, 3 shutting down, 4 unlocked; operational 2 disabled, 3 enabled; class 10 port, 6 supply. */
const state = (index: number, admin: number, oper: number, alarms = 0) =>
  rows(entityStateTables.entStateEntry, `${index}`, {
    2: integer(admin),
    3: integer(oper),
    5: octets(alarms),
    6: integer(1),
  });

describe('faults of parts', () => {
  const faultsFor = (kind: PhysicalRow['class'], answered: ReturnType<typeof rows>) => {
    const [row] = parsePhysical(rows(entityTables.entPhysicalEntry, '1', { 7: text('part') }));
    return faultsOf(
      { moduleStates: parseEntityStates(answered), sensors: [], readings: [], clockAheadSeconds: null },
      new Map(row ? [[1, { ...row, class: kind }]] : []),
      new Map([[1, 'box / part']]),
    ).map(({ severity, message }) => `${severity}: ${message}`);
  };
  test('a port that nothing is plugged into is none: IF-MIB tells of ports', () => {
    expect(faultsFor('port', state(1, 4, 2))).toEqual([]);
  });
  test('a part that a person took out of use is none', () => {
    expect(faultsFor('powerSupply', state(1, 2, 2))).toEqual([]);
    expect(faultsFor('module', state(1, 3, 2))).toEqual([]);
  });
  test('a part that is to work and does not is one, and so is an alarm, wherever it is raised', () => {
    expect(faultsFor('powerSupply', state(1, 4, 2))).toEqual(['critical: does not work']);
    expect(faultsFor('powerSupply', state(1, 1, 2))).toEqual(['critical: does not work']);
    expect(faultsFor('port', state(1, 4, 3, 0b0000_1000))).toEqual(['warning: alarm: minor']);
  });
});

test('classes that RFC 6933 added are known', () => {
  const classes = [13, 14, 15, 16].flatMap((kind, at) =>
    rows(entityTables.entPhysicalEntry, `${at + 1}`, { 5: integer(kind) }),
  );
  expect(parsePhysical(classes).map((row) => row.class)).toEqual([
    'energyObject',
    'battery',
    'storageDrive',
    'unknown',
  ]);
});
