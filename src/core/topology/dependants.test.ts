import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dependantsOf } from './dependants';
import type { Joint } from './joints';

const chain = (...devices: number[]): Joint[] => devices.slice(1).map((b, at) => ({ a: devices[at] ?? 0, b }));

describe('what depends on a device', () => {
  test('in a ring nothing; of a spur all that lies behind it', () => {
    const ring = chain(1, 2, 3, 4, 1);
    expect(dependantsOf(2, ring)).toEqual({ cutOff: [], spared: [1, 3] });
    const spurred = [...ring, ...chain(3, 10, 11, 12)];
    expect(dependantsOf(3, spurred)).toEqual({ cutOff: [10, 11, 12], spared: [2, 4] });
    expect(dependantsOf(11, spurred)).toEqual({ cutOff: [12], spared: [10] });
    expect(dependantsOf(12, spurred)).toEqual({ cutOff: [], spared: [11] });
  });
  test('a pair at one spur keeps each other, not the rest', () => {
    expect(dependantsOf(5, [...chain(1, 2, 3, 1, 5), ...chain(5, 8, 9, 5)]).cutOff).toEqual([8, 9]);
  });
  test('where nothing stays together all are cut off; a device alone cuts off nobody', () => {
    expect(dependantsOf(1, chain(2, 1, 3)).cutOff).toEqual([2, 3]);
    expect(dependantsOf(7, chain(1, 2))).toEqual({ cutOff: [], spared: [] });
  });
  test('two links between the same pair are one way, a link to itself none', () => {
    expect(dependantsOf(2, [...chain(1, 2, 1, 3), ...chain(2, 4), ...chain(4, 2), { a: 4, b: 4 }])).toEqual({
      cutOff: [4],
      spared: [1],
    });
  });
  test('agrees with walking from each device', () => {
    const joint = fc.record({ a: fc.integer({ min: 0, max: 12 }), b: fc.integer({ min: 0, max: 12 }) });
    fc.assert(
      fc.property(fc.array(joint, { maxLength: 24 }), (joints) => {
        const without = joints.filter(({ a, b }) => a !== 0 && b !== 0);
        const reachable = (start: number, ways: Joint[]) => {
          const reached = new Set([start]);
          for (let before = -1; before !== reached.size;) {
            before = reached.size;
            for (const { a, b } of ways) if (reached.has(a) || reached.has(b)) reached.add(a).add(b);
          }
          return reached;
        };
        const { cutOff, spared } = dependantsOf(0, joints);
        const all = [...reachable(0, joints)].filter((one) => one !== 0);
        const rest = all.filter((one) => !cutOff.includes(one));
        // those that are kept keep each other, and nobody who is cut off reaches them
        for (const one of all)
          expect([...reachable(one, without)].some((other) => rest.includes(other))).toBe(rest.includes(one));
        if (rest.length > 0) expect(reachable(rest[0] ?? 0, without).size).toBe(rest.length);
        for (const one of cutOff) expect(reachable(one, without).size).toBeLessThanOrEqual(Math.max(1, rest.length));
        expect(spared.every((one) => rest.includes(one))).toBe(true);
      }),
    );
  });
});
