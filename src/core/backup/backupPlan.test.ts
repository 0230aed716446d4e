import { describe, expect, test } from '@jest/globals';
import { isBackupDue, usualPlan } from './backupPlan';

const at = (text: string) => new Date(text);

describe('a copy is due', () => {
  const last = at('2026-11-22T03:30:10');
  test('once its hour is past, and not again that day', () => {
    expect(isBackupDue(usualPlan, last, at('2026-11-23T03:29:00'))).toBe(false);
    expect(isBackupDue(usualPlan, last, at('2026-11-23T03:30:00'))).toBe(true);
    expect(isBackupDue(usualPlan, at('2026-11-23T03:30:12'), at('2026-11-23T23:59:00'))).toBe(false);
  });
  test('also where nobody was there at its hour', () => {
    expect(isBackupDue(usualPlan, last, at('2026-11-25T01:00:00'))).toBe(true);
    expect(isBackupDue({ ...usualPlan, at: '23:00' }, at('2026-11-22T23:00:01'), at('2026-11-23T09:00:00'))).toBe(
      false,
    );
  });
  test('never where none is wanted', () => {
    expect(isBackupDue({ ...usualPlan, on: false }, last, at('2026-12-23T04:00:00'))).toBe(false);
  });
});
