import { expect, test } from '@jest/globals';
import { alarmTables, parseActiveAlarms } from './alarm';
import { oid, rows, text } from './testVarbinds';

test('the index of RFC 3877: name of the list, the moment it was raised, a number', () => {
  const list = '5.115.105.116.101.115';
  const moment = '11.7.234.5.4.3.2.1.0.43.0.0';
  expect(
    parseActiveAlarms([
      ...rows(alarmTables.alarmActiveEntry, `${list}.${moment}.17`, {
        10: oid('1.3.6.1.2.1.2.2.1.1.101'),
        11: text('loss of signal'),
      }),
      ...rows(alarmTables.alarmActiveEntry, `0.8.7.234.5.4.3.2.1.0.18`, { 10: oid('0.0'), 11: text('door open') }),
    ]),
  ).toEqual([
    { resource: '1.3.6.1.2.1.2.2.1.1.101', words: 'loss of signal', since: '2026-05-04T03:02:01' },
    { resource: '', words: 'door open', since: '2026-05-04T03:02:01' },
  ]);
});

test('a row whose index is too short is none', () => {
  expect(parseActiveAlarms(rows(alarmTables.alarmActiveEntry, '0.8.7.234', { 11: text('?') }))).toEqual([]);
});
