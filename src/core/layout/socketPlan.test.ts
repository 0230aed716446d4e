import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { planSockets } from './socketPlan';

const room = { width: 94, height: 12.5 };
const numbered = (prefix: string, count: number) =>
  Array.from({ length: count }, (_, at) => ({ name: `${prefix}${at + 1}` }));

describe('sockets on a plate', () => {
  test('stand in pairs, groups apart, cages behind them', () => {
    const { size, sockets } = planSockets([...numbered('', 24), ...numbered('U', 2)], null, room, 6);
    const at = (name: string) => sockets.find(({ port }) => port.name === name);
    expect(at('1')).toMatchObject({ x: 0, y: 0 });
    expect(at('2')).toMatchObject({ x: 0, y: size });
    expect(at('3')?.x).toBeCloseTo(size);
    expect(at('13')?.x).toBeCloseTo(6.4 * size);
    expect(at('U1')?.x).toBeCloseTo(12.8 * size);
  });
  test('of a server are no larger than they may be', () => {
    expect(planSockets(numbered('eth', 2), null, room, 6).size).toBe(6);
    expect(planSockets([], null, room, 6).sockets).toEqual([]);
  });
  test('of a chassis with small cards stand beside each other, so that they are larger', () => {
    const { size, sockets } = planSockets(
      [1, 2, 3, 4, 5, 6, 7, 8].flatMap((slot) => numbered(`${slot}/`, 8)),
      null,
      room,
      7,
    );
    expect(size).toBeGreaterThan(room.height / 8);
    const at = (name: string) => sockets.find(({ port }) => port.name === name);
    expect(at('1/1')?.x).toBe(0);
    expect(at('8/1')?.x).toBeGreaterThan(at('1/8')?.x ?? 0);
  });
  test('stand within their room and none on another, however many cards and ports there are', () => {
    const cards = fc.array(fc.integer({ min: 1, max: 52 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(
        cards,
        fc.constantFrom(null, { rows: 1 as const }, { rows: 2 as const, groupOf: 12 }),
        (counts, plan) => {
          const ports = counts.flatMap((count, slot) => numbered(`${slot + 1}/`, count));
          const { size, sockets } = planSockets(ports, plan, room, 6);
          expect(sockets).toHaveLength(ports.length);
          const edge = 1e-9;
          for (const { x, y } of sockets) {
            expect(x).toBeGreaterThanOrEqual(0);
            expect(x + size).toBeLessThanOrEqual(room.width + edge);
            expect(y + size).toBeLessThanOrEqual(room.height + edge);
          }
          const places = new Set(
            sockets.map(({ x, y }) => `${Math.round((x / size) * 10)} ${Math.round((y / size) * 10)}`),
          );
          expect(places.size).toBe(ports.length);
        },
      ),
      { numRuns: 60 },
    );
  });
});
