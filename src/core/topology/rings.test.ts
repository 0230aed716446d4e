import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Joint } from './joints';
import { lostSpares } from './lostSpares';
import { ringsOf } from './rings';
import { cablingOf } from '../dependency/cabling';
import { cutsOf } from '../dependency/cuts';

const chain = (...ids: number[]): Joint[] => ids.slice(1).map((b, at) => ({ a: ids[at] ?? 0, b }));
const onRing = (joints: Joint[]) => Array.from(ringsOf(joints), (ring) => ring >= 0);

describe('rings', () => {
  test('a chain has none; two cables between the same two are one; rings that share a device have grown together, those with a single link between them have not', () => {
    expect(onRing(chain(1, 2, 3))).toEqual([false, false]);
    expect(onRing([...chain(1, 2), ...chain(2, 1), ...chain(2, 3)])).toEqual([true, true, false]);
    const kinds = (joints: Joint[]) => new Set([...ringsOf(joints)].filter((ring) => ring >= 0)).size;
    expect(kinds([...chain(1, 2, 3, 1), ...chain(3, 4, 5, 3)])).toBe(1);
    expect(kinds([...chain(1, 2, 3, 1), ...chain(3, 4), ...chain(4, 5, 6, 4)])).toBe(2);
  });
  test('a link without a spare is one whose loss parts the network', () => {
    const graph = fc.array(fc.record({ a: fc.integer({ min: 1, max: 12 }), b: fc.integer({ min: 1, max: 12 }) }), {
      maxLength: 24,
    });
    fc.assert(
      fc.property(graph, (joints) => {
        const { cables } = cutsOf(cablingOf(13, joints), new Uint8Array(13));
        onRing(joints).forEach((ring, at) => {
          const { a, b } = joints[at] as Joint;
          if (a !== b) expect(ring).toBe(!cables.has(at));
        });
      }),
    );
  });
});

describe('spares that were lost', () => {
  const whole = chain(1, 2, 3, 4, 1);
  const cut = chain(1, 2, 3, 4);
  test('each link that is left says since when, and which one is gone', () => {
    const found = lostSpares(7, cut, [
      { survey: 6, links: cut },
      { survey: 5, links: whole },
      { survey: 4, links: whole },
    ]);
    expect([...found.keys()]).toEqual([0, 1, 2]);
    for (const { since, gone } of found.values()) expect([since, gone]).toEqual([6, { a: 4, b: 1 }]);
  });
  test('what never had a spare lost none, nor what has one again; who joined later begins anew', () => {
    expect(lostSpares(7, cut, [{ survey: 6, links: cut }]).size).toBe(0);
    expect(
      lostSpares(7, whole, [
        { survey: 6, links: cut },
        { survey: 5, links: whole },
      ]).size,
    ).toBe(0);
    expect([...lostSpares(7, [...cut, { a: 4, b: 9 }], [{ survey: 6, links: whole }]).keys()]).toEqual([0, 1, 2]);
  });
});
