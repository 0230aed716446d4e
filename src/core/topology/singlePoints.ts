import type { Joint } from './joints';

/** How much lies on the smaller sides of what is lost. */
export interface CutOff {
  devices: number;
  /** the sum of what hangs on those devices */
  hanging: number;
}

/** Whose loss parts the network, and what each would cut off. */
export interface SinglePoints {
  /** devices whose loss parts those that stay */
  devices: { id: number; cutOff: CutOff }[];
  /** pairs of devices joined by a single link whose loss parts the network */
  links: { a: number; b: number; cutOff: CutOff }[];
}

/** Some devices in a row, as they were left: all that lies below one of them. */
interface Part {
  from: number;
  upTo: number;
}

const none = { from: 0, upTo: 0 };

/**
 * Cut vertices and bridges of the graph of links (R. Tarjan, “Depth-first search and linear graph algorithms”, 1972), with what each cuts off from the larger rest. Several links between two devices
 * are no bridge. Links that rest count: they open when another is lost. A device or link that has nothing behind it but a single end device cuts off that one. Without recursion. What lies below a device
 * is left in a row, so that it is counted from its ends: linear in links, but for the sides that are as large as each other.
 * @param hangingOn how much hangs on a device, as its endpoints
 */
export function singlePoints(joints: Iterable<Joint>, hangingOn: (id: number) => number = () => 0): SinglePoints {
  const edges = [...joints].filter(({ a, b }) => a !== b);
  const around = new Map<number, { to: number; edge: number }[]>();
  const [pairs, several] = [new Set<string>(), new Set<string>()];
  const pairOf = (a: number, b: number) => `${Math.min(a, b)} ${Math.max(a, b)}`;
  for (const { a, b } of edges) {
    const pair = pairOf(a, b);
    (pairs.has(pair) ? several : pairs).add(pair);
  }
  edges.forEach(({ a, b }, edge) => {
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const) {
      const known = around.get(from);
      if (known) known.push({ to, edge });
      else around.set(from, [{ to, edge }]);
    }
  });
  const entered = new Map<number, number>();
  const lowest = new Map<number, number>();
  const found: SinglePoints = { devices: [], links: [] };
  let clock = 0;
  for (const root of [...around.keys()].sort((x, y) => x - y)) {
    if (entered.has(root)) continue;
    const left: number[] = [];
    const cuts: { at: number; under: number; part: Part }[] = [];
    const stack: { at: number; by: number; next: number; from: number }[] = [{ at: root, by: -1, next: 0, from: 0 }];
    entered.set(root, clock);
    lowest.set(root, clock++);
    while (stack.length > 0) {
      const frame = stack[stack.length - 1];
      if (!frame) break;
      const { at, by, from } = frame;
      const step = around.get(at)?.[frame.next++];
      if (step) {
        if (step.edge === by) continue;
        const seen = entered.get(step.to);
        if (seen === undefined) {
          entered.set(step.to, clock);
          lowest.set(step.to, clock++);
          stack.push({ at: step.to, by: step.edge, next: 0, from: left.length });
        } else lowest.set(at, Math.min(lowest.get(at) ?? 0, seen));
        continue;
      }
      stack.pop();
      left.push(at);
      const above = stack[stack.length - 1];
      if (!above) continue;
      lowest.set(above.at, Math.min(lowest.get(above.at) ?? 0, lowest.get(at) ?? 0));
      if ((lowest.get(at) ?? 0) >= (entered.get(above.at) ?? 0))
        cuts.push({ at: above.at, under: at, part: { from, upTo: left.length } });
    }
    const count = counter(left, hangingOn);
    const children = cuts.filter(({ at }) => at === root).length;
    const parts = new Map<number, Part[]>();
    for (const { at, under, part } of cuts) {
      if (at !== root || children > 1) {
        const known = parts.get(at);
        if (known) known.push(part);
        else parts.set(at, [part]);
      }
      if ((lowest.get(under) ?? 0) <= (entered.get(at) ?? 0) || several.has(pairOf(at, under))) continue;
      found.links.push({ a: Math.min(at, under), b: Math.max(at, under), cutOff: count.smaller(part) });
    }
    for (const [id, own] of parts) found.devices.push({ id, cutOff: count.butLargest(id, own) });
  }
  found.devices.sort((x, y) => y.cutOff.devices - x.cutOff.devices || x.id - y.id);
  found.links.sort((x, y) => y.cutOff.devices - x.cutOff.devices || x.a - y.a || x.b - y.b);
  return found;
}

/** Counts parts of a row of devices from their ends. */
function counter(row: readonly number[], hangingOn: (id: number) => number) {
  const sums = new Float64Array(row.length + 1);
  row.forEach((id, at) => (sums[at + 1] = (sums[at] ?? 0) + hangingOn(id)));
  const all: Part = { from: 0, upTo: row.length };
  const of = ({ from, upTo }: Part): CutOff => ({
    devices: upTo - from,
    hanging: (sums[upTo] ?? 0) - (sums[from] ?? 0),
  });
  const without = (whole: CutOff, part: CutOff): CutOff => ({
    devices: whole.devices - part.devices,
    hanging: whole.hanging - part.hanging,
  });
  const lowestIn = ({ from, upTo }: Part): number =>
    row.slice(from, upTo).reduce((low, id) => Math.min(low, id), Infinity);
  return {
    /** a part or what is beside it, whichever is smaller */
    smaller(part: Part): CutOff {
      const [inside, rest] = [of(part), without(of(all), of(part))];
      return inside.devices <= rest.devices ? inside : rest;
    },
    /** all but a device and the largest of what it holds together: of those that are as large, the one with the first number */
    butLargest(id: number, parts: readonly Part[]): CutOff {
      const others = without(of(all), { devices: 1, hanging: hangingOn(id) });
      const rest = parts.reduce((left, part) => without(left, of(part)), others);
      const most = Math.max(rest.devices, ...parts.map((part) => of(part).devices));
      const large = parts.filter((part) => of(part).devices === most);
      if (rest.devices === most) {
        const isIn = (at: number) => parts.some(({ from, upTo }) => at >= from && at < upTo);
        const first =
          large.length === 0
            ? -Infinity
            : row.reduce((low, other, at) => (other === id || isIn(at) ? low : Math.min(low, other)), Infinity);
        if (large.every((part) => lowestIn(part) > first)) return without(others, rest);
      }
      const [largest] =
        large.length > 1
          ? large.map((part) => ({ part, low: lowestIn(part) })).sort((x, y) => x.low - y.low)
          : large.map((part) => ({ part }));
      return without(others, of(largest?.part ?? none));
    },
  };
}
