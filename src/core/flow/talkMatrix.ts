import { compareNaturally } from '../values/naturalOrder';

/** Conversations as far as a matrix asks, a row each. */
export interface MatrixTalk {
  /** who asks, who is asked */
  from: GroupedEnd;
  to: GroupedEnd;
  names: readonly string[];
  /** connections or surveys it was seen in: what there is of it */
  weight: Float64Array;
  /** by its place in `talkAges` */
  age: Uint8Array;
}

/** One end of each conversation, and in which group it is. */
export interface GroupedEnd {
  /** by row: a number for who it is */
  codes: Uint32Array;
  /** by that number: its group, by its place in names; what no row has may be anything */
  groups: Uint32Array;
}
/** `now`: since the survey before; `rare`: in few hours of all it was heard; `remembered`: not since. What stands first makes a cell, whatever else is in it. */
export const talkAges = ['now', 'rare', 'remembered'] as const;
export type TalkAge = (typeof talkAges)[number];

export interface MatrixCell {
  /** by their places in `names` */
  row: number;
  column: number;
  conversations: number;
  /** of all weight in the matrix, 0 to 1 */
  share: number;
  age: TalkAge;
}

export interface TalkMatrix {
  /** who asks and who is asked, in an order that brings what belongs together onto the diagonal */
  names: string[];
  cells: MatrixCell[];
  /** groups that were too many to be drawn stand together as the last */
  others: number;
}

/** More rows nobody reads. */
const mostNames = 30;

/**
 * Who asks whom, group by group. The order is that of the Fiedler vector of the talk between groups (M. Fiedler, “Algebraic connectivity of graphs”, 1973): what says much to each other stands near each other.
 */
export function talkMatrix({ from, to, names, weight, age }: MatrixTalk, mostShown = mostNames): TalkMatrix {
  const totals = new Float64Array(names.length);
  for (const { codes, groups } of [from, to])
    weightsBy(codes, weight, groups.length).forEach((own, code) => {
      const group = groups[code] ?? 0;
      if (own > 0) totals[group] = (totals[group] ?? 0) + own;
    });
  const { shown, others } = largest(totals, names, mostShown);
  const size = shown.length + (others > 0 ? 1 : 0);
  // by group: its place among those shown, what is too many behind them
  const place = new Uint8Array(names.length).fill(shown.length);
  shown.forEach((group, at) => (place[group] = at));
  const placesOf = ({ groups }: GroupedEnd) => {
    const places = new Uint8Array(groups.length);
    for (let code = 0; code < places.length; code++) places[code] = place[groups[code] ?? 0] ?? 0;
    return places;
  };
  const { conversations, weights, ages } = cellsOf(
    [from.codes, placesOf(from)],
    [to.codes, placesOf(to)],
    { weight, age },
    size,
  );
  const all = weights.reduce((sum, one) => sum + one, 0);
  const order = seriated(
    shown.map((_, one) =>
      Float64Array.from(shown, (__, other) =>
        one === other ? 0 : (weights[one * size + other] ?? 0) + (weights[other * size + one] ?? 0),
      ),
    ),
  );
  if (others > 0) order.push(shown.length);
  const cells: MatrixCell[] = [];
  order.forEach((one, row) =>
    order.forEach((other, column) => {
      const cell = one * size + other;
      const count = conversations[cell] ?? 0;
      if (count > 0)
        cells.push({
          row,
          column,
          conversations: count,
          share: all === 0 ? 0 : (weights[cell] ?? 0) / all,
          age: talkAges[ages[cell] ?? 0] ?? 'now',
        });
    }),
  );
  return { names: order.map((at) => names[shown[at] ?? -1] ?? 'all others'), others, cells };
}

/** By code: all weight of its rows. A loop of its own, since there are millions of them. */
function weightsBy(codes: Uint32Array, weight: Float64Array, size: number): Float64Array {
  const totals = new Float64Array(size);
  for (let row = 0; row < codes.length; row++) {
    const code = codes[row] ?? 0;
    totals[code] = (totals[code] ?? 0) + (weight[row] ?? 0);
  }
  return totals;
}

type Placed = readonly [codes: Uint32Array, places: Uint8Array];

/** What stands in each cell. Each end comes with the row or column of each of its codes. */
function cellsOf(
  [from, rowOf]: Placed,
  [to, columnOf]: Placed,
  { weight, age }: Pick<MatrixTalk, 'weight' | 'age'>,
  size: number,
): { conversations: Float64Array; weights: Float64Array; ages: Uint8Array } {
  const conversations = new Float64Array(size * size);
  const weights = new Float64Array(size * size);
  const ages = new Uint8Array(size * size).fill(talkAges.length);
  for (let row = 0; row < from.length; row++) {
    const cell = (rowOf[from[row] ?? 0] ?? 0) * size + (columnOf[to[row] ?? 0] ?? 0);
    conversations[cell] = (conversations[cell] ?? 0) + 1;
    weights[cell] = (weights[cell] ?? 0) + (weight[row] ?? 0);
    const own = age[row] ?? 0;
    if (own < (ages[cell] ?? 0)) ages[cell] = own;
  }
  return { conversations, weights, ages };
}

/** The groups with most talk, most first; how many there are beyond them. */
function largest(totals: Float64Array, names: readonly string[], most: number): { shown: number[]; others: number } {
  const heard = totals.filter((total) => total > 0);
  const shownOf = heard.length > most ? most - 1 : most;
  const least = heard.slice().sort().at(-shownOf) ?? 0;
  const shown: number[] = [];
  totals.forEach((total, group) => {
    if (total > 0 && total >= least) shown.push(group);
  });
  shown.sort((x, y) => (totals[y] ?? 0) - (totals[x] ?? 0) || compareNaturally(names[x] ?? '', names[y] ?? ''));
  return { shown: shown.slice(0, shownOf), others: heard.length - Math.min(shown.length, shownOf) };
}

const mostRounds = 200;

/** An order by the second smallest eigenvector of the Laplacian, found by power iteration on its complement; parts that say nothing to each other one after the other. */
function seriated(joint: readonly Float64Array[]): number[] {
  const size = joint.length;
  if (size < 3) return Array.from({ length: size }, (_, at) => at);
  const degree = joint.map((row) => row.reduce((sum, weight) => sum + weight, 0));
  const bound = 2 * Math.max(...degree, 1);
  let vector = Float64Array.from({ length: size }, (_, at) => at - (size - 1) / 2);
  for (let round = 0; round < mostRounds; round++) {
    const next = new Float64Array(size);
    for (let at = 0; at < size; at++) {
      let sum = (bound - (degree[at] ?? 0)) * (vector[at] ?? 0);
      const row = joint[at];
      if (row) for (let other = 0; other < size; other++) sum += (row[other] ?? 0) * (vector[other] ?? 0);
      next[at] = sum;
    }
    const mean = next.reduce((sum, value) => sum + value, 0) / size;
    let norm = 0;
    for (let at = 0; at < size; at++) {
      next[at] = (next[at] ?? 0) - mean;
      norm += (next[at] ?? 0) ** 2;
    }
    if (norm === 0) break;
    const length = Math.sqrt(norm);
    vector = next.map((value) => value / length);
  }
  return Array.from({ length: size }, (_, at) => at).sort((x, y) => (vector[x] ?? 0) - (vector[y] ?? 0) || x - y);
}
