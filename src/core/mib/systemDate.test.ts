import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { clockAhead } from './systemDate';

const octets = (at: Date, zoneMinutes: number | null) => {
  const local = new Date(at.getTime() + (zoneMinutes ?? 0) * 60_000);
  const away = Math.abs(zoneMinutes ?? 0);
  return Uint8Array.from([
    local.getUTCFullYear() >> 8,
    local.getUTCFullYear() & 255,
    local.getUTCMonth() + 1,
    local.getUTCDate(),
    local.getUTCHours(),
    local.getUTCMinutes(),
    local.getUTCSeconds(),
    0,
    ...(zoneMinutes === null ? [] : [zoneMinutes < 0 ? 0x2d : 0x2b, Math.floor(away / 60), away % 60]),
  ]);
};
const now = Date.UTC(2026, 10, 24, 6);

test('with its zone, the difference is what it is, in whatever zone', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -100_000, max: 100_000 }),
      fc.integer({ min: -56, max: 56 }).map((quarters) => quarters * 15),
      (ahead, zone) => {
        expect(clockAhead(octets(new Date(now + ahead * 1000), zone), now)).toBe(ahead);
      },
    ),
  );
});
test('without a zone only what cannot be one is told', () => {
  const local = (ahead: number) => clockAhead(octets(new Date(now + ahead * 1000), null), now);
  expect([local(0), local(3600), local(5.5 * 3600), local(3600 + 200), local(-130)]).toEqual([0, 0, 0, 200, -130]);
});
test('what is no date is nothing', () => {
  for (const bad of [
    undefined,
    [],
    [7, 234],
    [7, 234, 13, 1, 0, 0, 0, 0],
    [0, 0, 1, 1, 0, 0, 0, 0],
    [7, 234, 11, 24, 6, 0, 0, 0, 1, 0, 0],
    [7, 234, 11, 24, 6, 0, 0, 0, 0x2b, 99, 0],
  ])
    expect(clockAhead(bad && Uint8Array.from(bad), now)).toBeNull();
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 14 }), (random) => {
      const ahead = clockAhead(random, now);
      expect(ahead === null || Number.isFinite(ahead)).toBe(true);
    }),
  );
});
