import { atOnce, type Steps } from '../steps';

/** Pairs that belong together by a weight; what joins something to itself is left out. */
export interface WeightedPairs {
  size: number;
  a: ArrayLike<number>;
  b: ArrayLike<number>;
  weight: ArrayLike<number>;
}

interface Level {
  size: number;
  starts: Int32Array;
  to: Int32Array;
  weight: Float64Array;
  /** within each: of what was one at a level below */
  inside: Float64Array;
  degree: Float64Array;
  total: number;
}

/** What a move must gain at least, so that it ends. */
const leastGain = 1e-9;
const mostRounds = 40;
const movedInStep = 20_000;

/**
 * Groups that talk more among themselves than chance would have it: modularity with weights (M. Newman, “Analysis of weighted networks”, 2004), made large by moving one after the other and then whole groups (V. Blondel et al., “Fast
 * unfolding of communities in large networks”, 2008). Always in the same order, so that the same pairs give the same groups.
 * @param before groups to begin with, by number, -1 for none: what was together stays together where nothing speaks against it
 * @returns the group of each, numbered in the order in which they are met
 */
export const groupsByTalk = (pairs: WeightedPairs, before?: ArrayLike<number>): Int32Array =>
  atOnce(groupsInSteps(pairs, before));

/** The same a step at a time. */
export function* groupsInSteps(pairs: WeightedPairs, before?: ArrayLike<number>): Steps<Int32Array> {
  let level = levelOf(pairs);
  yield;
  const groupOf = Int32Array.from({ length: pairs.size }, (_, at) => at);
  let first = before ? startOf(before, pairs.size) : null;
  for (let round = 0; round < mostRounds; round++) {
    const moved = yield* moveOnes(level, first);
    first = null;
    const numbers = numbered(moved);
    for (let at = 0; at < groupOf.length; at++) groupOf[at] = numbers[groupOf[at] ?? 0] ?? 0;
    const count = numbers.reduce((most, one) => Math.max(most, one), -1) + 1;
    if (count === level.size) break;
    level = together(level, numbers, count);
    yield;
  }
  return numbered(groupOf);
}

/** Modularity of some groups: 0 where they are as chance has it, 1 at most. */
export function modularity(pairs: WeightedPairs, groupOf: ArrayLike<number>): number {
  const { total, degree } = levelOf(pairs);
  if (total === 0) return 0;
  const inside = new Map<number, number>();
  const all = new Map<number, number>();
  for (let at = 0; at < pairs.a.length; at++) {
    const [one, other] = [pairs.a[at] ?? 0, pairs.b[at] ?? 0];
    if (one !== other && groupOf[one] === groupOf[other])
      inside.set(groupOf[one] ?? 0, (inside.get(groupOf[one] ?? 0) ?? 0) + (pairs.weight[at] ?? 0));
  }
  for (let at = 0; at < pairs.size; at++)
    all.set(groupOf[at] ?? 0, (all.get(groupOf[at] ?? 0) ?? 0) + (degree[at] ?? 0));
  let sum = 0;
  for (const [group, weight] of all) sum += (inside.get(group) ?? 0) / total - (weight / (2 * total)) ** 2;
  return sum;
}

/** Groups to begin with, each under the number of its first. */
function startOf(before: ArrayLike<number>, size: number): Int32Array {
  const firsts = new Map<number, number>();
  return Int32Array.from({ length: size }, (_, at) => {
    const group = before[at] ?? -1;
    if (group < 0) return at;
    const known = firsts.get(group);
    if (known !== undefined) return known;
    firsts.set(group, at);
    return at;
  });
}

function levelOf({ size, a, b, weight }: WeightedPairs): Level {
  const starts = new Int32Array(size + 1);
  for (let at = 0; at < a.length; at++) {
    if (a[at] === b[at]) continue;
    for (const end of [a[at] ?? 0, b[at] ?? 0]) starts[end + 1] = (starts[end + 1] ?? 0) + 1;
  }
  for (let at = 0; at < size; at++) starts[at + 1] = (starts[at + 1] ?? 0) + (starts[at] ?? 0);
  const to = new Int32Array(starts[size] ?? 0);
  const weights = new Float64Array(to.length);
  const next = starts.slice();
  const degree = new Float64Array(size);
  let total = 0;
  const put = (from: number, other: number, of: number) => {
    const place = next[from] ?? 0;
    to[place] = other;
    weights[place] = of;
    next[from] = place + 1;
    degree[from] = (degree[from] ?? 0) + of;
  };
  for (let at = 0; at < a.length; at++) {
    const [one, other, of] = [a[at] ?? 0, b[at] ?? 0, weight[at] ?? 0];
    if (one === other) continue;
    put(one, other, of);
    put(other, one, of);
    total += of;
  }
  return { size, starts, to, weight: weights, inside: new Float64Array(size), degree, total };
}

/** Moves each to the group it gains most with, until nothing moves. */
function* moveOnes(level: Level, first: Int32Array | null): Steps<Int32Array> {
  const { size, starts, to, weight, degree, total } = level;
  const group = first ?? Int32Array.from({ length: size }, (_, at) => at);
  const all = new Float64Array(size);
  for (let at = 0; at < size; at++) all[group[at] ?? 0] = (all[group[at] ?? 0] ?? 0) + (degree[at] ?? 0);
  if (total === 0) return group;
  const towards = new Float64Array(size);
  const met = new Int32Array(size);
  for (let round = 0; round < mostRounds; round++) {
    let moves = 0;
    for (let at = 0; at < size; at++) {
      if (at % movedInStep === movedInStep - 1) yield;
      const own = group[at] ?? 0;
      const degreeHere = degree[at] ?? 0;
      let count = 0;
      for (let place = starts[at] ?? 0; place < (starts[at + 1] ?? 0); place++) {
        const other = group[to[place] ?? 0] ?? 0;
        if (towards[other] === 0) met[count++] = other;
        towards[other] = (towards[other] ?? 0) + (weight[place] ?? 0);
      }
      all[own] = (all[own] ?? 0) - degreeHere;
      const gain = (of: number) => (towards[of] ?? 0) - ((all[of] ?? 0) * degreeHere) / (2 * total);
      let [best, most] = [own, gain(own)];
      for (let nth = 0; nth < count; nth++) {
        const of = met[nth] ?? 0;
        const here = gain(of);
        if (here > most + leastGain) [best, most] = [of, here];
      }
      all[best] = (all[best] ?? 0) + degreeHere;
      if (best !== own) {
        group[at] = best;
        moves++;
      }
      for (let nth = 0; nth < count; nth++) towards[met[nth] ?? 0] = 0;
    }
    if (moves === 0) break;
    yield;
  }
  return group;
}

/** Groups numbered from 0 in the order in which they are met. */
function numbered(group: Int32Array): Int32Array {
  const numbers = new Map<number, number>();
  return group.map((one) => {
    const known = numbers.get(one);
    if (known !== undefined) return known;
    numbers.set(one, numbers.size);
    return numbers.size - 1;
  });
}

/** Each group as one. */
function together(level: Level, numbers: Int32Array, count: number): Level {
  const sums = new Map<number, number>();
  const inside = new Float64Array(count);
  const degree = new Float64Array(count);
  for (let at = 0; at < level.size; at++) {
    const own = numbers[at] ?? 0;
    degree[own] = (degree[own] ?? 0) + (level.degree[at] ?? 0);
    inside[own] = (inside[own] ?? 0) + (level.inside[at] ?? 0);
    for (let place = level.starts[at] ?? 0; place < (level.starts[at + 1] ?? 0); place++) {
      const other = numbers[level.to[place] ?? 0] ?? 0;
      if (other === own) inside[own] = (inside[own] ?? 0) + (level.weight[place] ?? 0) / 2;
      else {
        const key = own * count + other;
        sums.set(key, (sums.get(key) ?? 0) + (level.weight[place] ?? 0));
      }
    }
  }
  const keys = [...sums.keys()].sort((x, y) => x - y);
  const starts = new Int32Array(count + 1);
  const to = new Int32Array(keys.length);
  const weight = new Float64Array(keys.length);
  keys.forEach((key, place) => {
    const own = Math.floor(key / count);
    starts[own + 1] = (starts[own + 1] ?? 0) + 1;
    to[place] = key % count;
    weight[place] = sums.get(key) ?? 0;
  });
  for (let at = 0; at < count; at++) starts[at + 1] = (starts[at + 1] ?? 0) + (starts[at] ?? 0);
  return { size: count, starts, to, weight, inside, degree, total: level.total };
}
