import { compareNaturally } from '../values/naturalOrder';

/** One conversation, as far as a matrix asks: by which groups both ends are counted, how much was said, when last. */
export interface MatrixTalk {
  from: string;
  to: string;
  /** connections or surveys it was seen in: what there is of it */
  weight: number;
  /** `now`: since the survey before; `remembered`: not since; `rare`: on three days or fewer of all it was heard */
  age: TalkAge;
}
export type TalkAge = 'now' | 'remembered' | 'rare';

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
const ages: TalkAge[] = ['now', 'rare', 'remembered'];

/**
 * Who asks whom, group by group. The order is that of the Fiedler vector of the talk between groups (M. Fiedler, “Algebraic connectivity of graphs”, 1973): what says much to each other stands near each other.
 */
export function talkMatrix(talks: readonly MatrixTalk[], mostShown = mostNames): TalkMatrix {
  const totals = new Map<string, number>();
  for (const { from, to, weight } of talks)
    for (const name of [from, to]) totals.set(name, (totals.get(name) ?? 0) + weight);
  const ranked = [...totals].sort((x, y) => y[1] - x[1] || compareNaturally(x[0], y[0])).map(([name]) => name);
  const shown = ranked.slice(0, ranked.length > mostShown ? mostShown - 1 : mostShown);
  const others = ranked.length - shown.length;
  const place = new Map(shown.map((name, at) => [name, at]));
  const of = (name: string) => place.get(name) ?? shown.length;
  const size = shown.length + (others > 0 ? 1 : 0);
  const joint = Array.from({ length: size }, () => new Float64Array(size));
  for (const { from, to, weight } of talks) {
    const [a, b] = [of(from), of(to)];
    if (a === b) continue;
    const rows = [joint[a], joint[b]];
    if (rows[0]) rows[0][b] = (rows[0][b] ?? 0) + weight;
    if (rows[1]) rows[1][a] = (rows[1][a] ?? 0) + weight;
  }
  const order = seriated(joint.slice(0, shown.length).map((row) => row.slice(0, shown.length)));
  if (others > 0) order.push(shown.length);
  const placed = new Map(order.map((old, at) => [old, at]));
  const cells = new Map<string, MatrixCell & { weight: number }>();
  let all = 0;
  for (const { from, to, weight, age } of talks) {
    const [row, column] = [placed.get(of(from)) ?? 0, placed.get(of(to)) ?? 0];
    const key = `${row} ${column}`;
    const cell = cells.get(key) ?? { row, column, conversations: 0, share: 0, weight: 0, age };
    cells.set(key, cell);
    cell.conversations++;
    cell.weight += weight;
    // what talked lately makes the cell full, whatever else is in it
    if (ages.indexOf(age) < ages.indexOf(cell.age)) cell.age = age;
    all += weight;
  }
  return {
    names: order.map((old) => shown[old] ?? 'all others'),
    others,
    cells: [...cells.values()]
      .map(({ weight, ...cell }) => ({ ...cell, share: all === 0 ? 0 : weight / all }))
      .sort((x, y) => x.row - y.row || x.column - y.column),
  };
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
