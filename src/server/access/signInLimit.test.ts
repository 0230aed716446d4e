import { describe, expect, test } from '@jest/globals';
import { forgetFailures, mustWaitSeconds, recordFailure } from './signInLimit';

const minute = 60_000;

describe('guessing passwords', () => {
  test('eight failures for one name, then a wait that ends by itself', () => {
    const start = 1_000_000;
    for (let at = 0; at < 8; at++) {
      expect(mustWaitSeconds('marla', start + at)).toBe(0);
      recordFailure('marla', start + at);
    }
    expect(mustWaitSeconds('marla', start + minute)).toBe(14 * 60);
    expect(mustWaitSeconds('MARLA', start + minute)).toBeGreaterThan(0);
    expect(mustWaitSeconds('osric', start + minute)).toBe(0);
    expect(mustWaitSeconds('marla', start + 15 * minute + 8)).toBe(0);
  });
  test('signing in forgets the failures of that name', () => {
    const start = 100 * minute;
    for (let at = 0; at < 8; at++) recordFailure('osric', start);
    expect(mustWaitSeconds('osric', start)).toBeGreaterThan(0);
    forgetFailures('Osric');
    expect(mustWaitSeconds('osric', start)).toBe(0);
  });
  test('many names tried from everywhere make everybody wait', () => {
    const start = 1000 * minute;
    for (let at = 0; at < 200; at++) recordFailure(`name-${at}`, start);
    expect(mustWaitSeconds('somebody-else', start + minute)).toBe(14 * 60);
    expect(mustWaitSeconds('somebody-else', start + 16 * minute)).toBe(0);
  });
});
