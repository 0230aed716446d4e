import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cutByLink } from './cutByLink';
import { neighboursOf, reachedFrom, type Joint } from './joints';
import { singlePoints } from './singlePoints';

/** Each device has as many endpoints as its number. */
const itself = (id: number) => id;
const of = (...ids: number[]) => ({ devices: ids.length, hanging: ids.reduce((sum, id) => sum + id, 0) });
const chain = (...ids: number[]): Joint[] => ids.slice(1).map((b, at) => ({ a: ids[at] ?? 0, b }));

test('a chain hangs on each of its links, a ring on none; a spur on a ring on its own', () => {
  expect(singlePoints(chain(1, 2, 3), itself).links).toEqual([
    { a: 1, b: 2, cutOff: of(1) },
    { a: 2, b: 3, cutOff: of(3) },
  ]);
  expect(singlePoints(chain(1, 2, 3, 1), itself)).toEqual({ devices: [], links: [] });
  expect(singlePoints([...chain(1, 2, 3, 4, 1), ...chain(3, 7, 8)], itself)).toEqual({
    devices: [
      { id: 3, cutOff: of(7, 8) },
      { id: 7, cutOff: of(8) },
    ],
    links: [
      { a: 3, b: 7, cutOff: of(7, 8) },
      { a: 7, b: 8, cutOff: of(8) },
    ],
  });
});

test('two links between the same two part nothing, and parts that were never joined are no matter of anybody', () => {
  expect(singlePoints([...chain(1, 2), ...chain(1, 2)], itself)).toEqual({ devices: [], links: [] });
  expect(singlePoints([...chain(1, 2), ...chain(5, 6, 7)], itself).devices).toEqual([{ id: 6, cutOff: of(7) }]);
});

test('finds what taking each device and each link away shows', () => {
  const graph = fc.array(fc.record({ a: fc.integer({ min: 1, max: 9 }), b: fc.integer({ min: 1, max: 9 }) }), {
    maxLength: 16,
  });
  fc.assert(
    fc.property(graph, (joints) => {
      const { devices, links } = singlePoints(joints, itself);
      const real = joints.filter(({ a, b }) => a !== b);
      const parts = (of: Joint[], ids: Iterable<number>) => {
        const neighbours = neighboursOf(of);
        const seen = new Set<number>();
        return [...ids]
          .filter((id) => !seen.has(id))
          .filter((id) => !seen.has(id) && reachedFrom(id, neighbours, seen).length > 0).length;
      };
      const ids = [...new Set(real.flatMap(({ a, b }) => [a, b]))].sort((x, y) => x - y);
      const whole = parts(real, ids);
      const cutting = ids.filter(
        (id) =>
          parts(
            real.filter(({ a, b }) => a !== id && b !== id),
            ids.filter((other) => other !== id),
          ) > whole,
      );
      expect(devices.map(({ id }) => id).sort((x, y) => x - y)).toEqual(cutting);
      const pairs = [...new Set(real.map(({ a, b }) => `${Math.min(a, b)} ${Math.max(a, b)}`))].map(
        (pair) => pair.split(' ').map(Number) as [number, number],
      );
      const bridges = pairs.filter(
        ([a, b]) =>
          real.filter((joint) => (joint.a === a && joint.b === b) || (joint.a === b && joint.b === a)).length === 1 &&
          cutByLink(a, b, real).length > 0,
      );
      expect(links.map(({ a, b }) => `${a} ${b}`).sort()).toEqual(bridges.map(([a, b]) => `${a} ${b}`).sort());
      // of two sides that are as large, either may be the one that is cut off
      for (const { a, b, cutOff } of links) expect(cutByLink(a, b, real).length).toBe(cutOff.devices);
      for (const { id, cutOff } of devices) {
        const rest = real.filter(({ a, b }) => a !== id && b !== id);
        const neighbours = neighboursOf(rest);
        const own = reachedFrom(id, neighboursOf(real), new Set());
        const seen = new Set<number>();
        const sides = own
          .filter((other) => other !== id)
          .sort((x, y) => x - y)
          .flatMap((other) => (seen.has(other) ? [] : [reachedFrom(other, neighbours, seen)]));
        const [largest] = [...sides].sort((x, y) => y.length - x.length);
        expect(cutOff).toEqual(of(...sides.filter((side) => side !== largest).flat()));
      }
    }),
  );
});
