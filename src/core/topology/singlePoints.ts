import type { Joint } from './joints';

/** Whose loss parts the network, and what each would cut off. */
export interface SinglePoints {
  /** devices whose loss parts those that stay: by number, with how many lie on its smaller sides */
  devices: { id: number; cutOff: number[] }[];
  /** pairs of devices joined by a single link whose loss parts the network, with what lies on its smaller side */
  links: { a: number; b: number; cutOff: number[] }[];
}

/**
 * Cut vertices and bridges of the graph of links (R. Tarjan, “Depth-first search and linear graph algorithms”, 1972), with what each cuts off from the larger rest. Several links between two devices
 * are no bridge. Links that rest count: they open when another is lost. A device or link that has nothing behind it but a single end device cuts off that one. Without recursion, linear
 * but for what is listed as cut off.
 */
export function singlePoints(joints: Iterable<Joint>): SinglePoints {
  const edges = [...joints].filter(({ a, b }) => a !== b);
  const around = new Map<number, { to: number; edge: number }[]>();
  edges.forEach(({ a, b }, edge) => {
    for (const [from, to] of [[a, b], [b, a]] as const) {
      const known = around.get(from);
      if (known) known.push({ to, edge });
      else around.set(from, [{ to, edge }]);
    }
  });
  const entered = new Map<number, number>();
  const lowest = new Map<number, number>();
  const below = new Map<number, number[]>();
  const devices = new Map<number, number[][]>();
  const found: SinglePoints = { devices: [], links: [] };
  let clock = 0;
  for (const root of [...around.keys()].sort((x, y) => x - y)) {
    if (entered.has(root)) continue;
    const component: number[] = [];
    const cuts: { at: number; under: number; edge: number; members: number[] }[] = [];
    const stack: { at: number; by: number; next: number }[] = [{ at: root, by: -1, next: 0 }];
    entered.set(root, clock);
    lowest.set(root, clock++);
    while (stack.length > 0) {
      const frame = stack[stack.length - 1];
      if (!frame) break;
      const { at, by } = frame;
      const step = around.get(at)?.[frame.next++];
      if (step) {
        if (step.edge === by) continue;
        const seen = entered.get(step.to);
        if (seen === undefined) {
          entered.set(step.to, clock);
          lowest.set(step.to, clock++);
          stack.push({ at: step.to, by: step.edge, next: 0 });
        } else lowest.set(at, Math.min(lowest.get(at) ?? 0, seen));
        continue;
      }
      stack.pop();
      component.push(at);
      const own = [at, ...(below.get(at) ?? [])];
      const above = stack[stack.length - 1];
      if (!above) continue;
      below.set(above.at, [...(below.get(above.at) ?? []), ...own]);
      lowest.set(above.at, Math.min(lowest.get(above.at) ?? 0, lowest.get(at) ?? 0));
      if ((lowest.get(at) ?? 0) >= (entered.get(above.at) ?? 0)) cuts.push({ at: above.at, under: at, edge: by, members: own });
    }
    const children = cuts.filter(({ at }) => at === root).length;
    for (const { at, under, members } of cuts) {
      if (at !== root || children > 1) devices.set(at, [...(devices.get(at) ?? []), members]);
      if ((lowest.get(under) ?? 0) <= (entered.get(at) ?? 0)) continue;
      const parallel = (around.get(at) ?? []).filter(({ to }) => to === under).length;
      if (parallel > 1) continue;
      const rest = component.length - members.length;
      const inside = new Set(members);
      found.links.push({ a: Math.min(at, under), b: Math.max(at, under), cutOff: sorted(members.length <= rest ? members : component.filter((id) => !inside.has(id))) });
    }
    for (const [id, parts] of devices) {
      const hanging = new Set(parts.flat());
      const rest = component.filter((other) => other !== id && !hanging.has(other));
      const all = rest.length > 0 ? [...parts, rest] : parts;
      const [largest] = [...all].sort((x, y) => y.length - x.length || lowestOf(x) - lowestOf(y));
      found.devices.push({ id, cutOff: sorted(all.filter((part) => part !== largest).flat()) });
    }
    devices.clear();
  }
  found.devices.sort((x, y) => y.cutOff.length - x.cutOff.length || x.id - y.id);
  found.links.sort((x, y) => y.cutOff.length - x.cutOff.length || x.a - y.a || x.b - y.b);
  return found;
}

const lowestOf = (ids: number[]): number => ids.reduce((low, id) => Math.min(low, id), Infinity);
const sorted = (ids: number[]): number[] => [...ids].sort((x, y) => x - y);
