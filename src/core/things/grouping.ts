import { compareReleases } from '../firmware/release';
import type { ColumnSource } from '../tables/column';
import { compareAddresses } from '../values/ipAddress';
import { compareNaturally } from '../values/naturalOrder';
import type { ThingField } from './thing';

/** Rows that have the same values in the fields grouped by, as far as the path of values goes. */
export interface Group {
  /** one value for each level from the outermost on; empty where rows have none */
  path: string[];
  count: number;
  /** sums over the rows, of the fields that add up */
  sums: Record<string, number>;
}

export const mostGroupLevels = 3;
/** Groups by something that is another in every row are nobody's overview. */
const mostGroups = 20_000;

/** Grouping makes more groups than anybody can look at. */
export class TooManyGroupsError extends Error {}

interface Node {
  /** as the first of its rows writes it; letters of another case make no other group, since filters do not tell them apart */
  value: string;
  groups: Map<number, Node>;
  count: number;
  sums: number[];
}

/**
 * Groups rows of a table on up to three levels, each group before those within it, in the order of their values; rows without a value come last. Linear in rows, and one
 * look-up a level for each.
 * @throws TooManyGroupsError
 */
export function groupRows(rows: Uint32Array, table: ColumnSource, by: ThingField[], summed: ThingField[]): Group[] {
  const newNode = (value: string): Node => ({ value, groups: new Map(), count: 0, sums: summed.map(() => 0) });
  const levels = by.map(({ name }) => {
    const { codes, dictionary } = table.column(name);
    return { codes, ...dictionary.groups() };
  });
  const numbers = summed.map(({ name }): ((row: number) => number) => {
    const own = table.numbersOf?.(name);
    if (own) return (row) => own[row] || 0;
    const { codes, dictionary } = table.column(name);
    const values = Float64Array.from(dictionary.values, (value) => (typeof value === 'number' ? value : 0));
    return (row) => values[codes[row] ?? 0] ?? 0;
  });
  const add = (node: Node, row: number) => {
    node.count++;
    for (let at = 0; at < numbers.length; at++) {
      node.sums[at] = (node.sums[at] ?? 0) + (numbers[at]?.(row) ?? 0);
    }
  };
  const root = newNode('');
  let made = 0;
  for (const row of rows) {
    let node = root;
    for (const { codes, names, of } of levels) {
      const group = of[codes[row] ?? 0] ?? 0;
      let next = node.groups.get(group);
      if (!next) {
        if (++made > mostGroups) throw new TooManyGroupsError(`more than ${mostGroups.toLocaleString('en')} groups`);
        node.groups.set(group, (next = newNode(names[group] ?? '')));
      }
      node = next;
      add(node, row);
    }
  }
  const list: Group[] = [];
  const walk = (node: Node, path: string[]) => {
    const field = by[path.length];
    if (!field) return;
    const order = orderOf(field);
    for (const inner of [...node.groups.values()].sort(({ value: x }, { value: y }) =>
      x === '' || y === '' ? Number(x === '') - Number(y === '') : order(x, y),
    )) {
      const here = [...path, inner.value];
      list.push({
        path: here,
        count: inner.count,
        sums: Object.fromEntries(summed.map(({ name }, at) => [name, inner.sums[at] ?? 0])),
      });
      walk(inner, here);
    }
  };
  walk(root, []);
  return list;
}

function orderOf({ kind }: ThingField): (x: string, y: string) => number {
  if (kind === 'release') return compareReleases;
  if (kind === 'address') return compareAddresses;
  if (['number', 'bytes', 'bitsPerSecond', 'seconds'].includes(kind)) return (x, y) => Number(x) - Number(y);
  return compareNaturally;
}

/** The filter that holds exactly the rows of a group. */
export function filterOfGroup(by: Pick<ThingField, 'name'>[], path: string[]): string {
  return path.map((value, level) => `${by[level]?.name ?? ''}="${value.replaceAll('"', '')}"`).join(' ');
}
