import type { Group } from '@/core/things/grouping';

/** One line of a table: the head of a group, or a row at its place among the rows of its group (of the whole table where nothing is grouped). */
export type Line =
  | { kind: 'group'; group: Group; level: number; key: string; open: boolean }
  | { kind: 'row'; path: string[]; at: number };

interface Stretch {
  /** first line of it */
  from: number;
  length: number;
  line: (offset: number) => Line;
}

/** How a group is remembered as open. */
export const groupKey = (path: string[]): string => JSON.stringify(path);

/** The lines of a table whose groups are open or closed: what is within a closed one is no line. Rows are found by halving, so that a quarter of a million cost nothing. */
export class Lines {
  readonly #stretches: Stretch[] = [];
  readonly length: number;

  /** @param groups each before those within it; null where nothing is grouped */
  constructor(groups: Group[] | null, levels: number, total: number, isOpen: (key: string) => boolean) {
    let from = 0;
    const add = (length: number, line: Stretch['line']) => {
      if (length > 0) this.#stretches.push({ from, length, line });
      from += length;
    };
    if (groups === null) add(total, (at) => ({ kind: 'row', path: [], at }));
    else {
      // how deep one has come without a closed group on the way
      let visible = 1;
      for (const group of groups) {
        const { path, count } = group;
        if (path.length > visible) continue;
        const key = groupKey(path);
        const open = isOpen(key);
        visible = open ? path.length + 1 : path.length;
        add(1, () => ({ kind: 'group', group, level: path.length, key, open }));
        if (open && path.length === levels) add(count, (at) => ({ kind: 'row', path, at }));
      }
    }
    this.length = from;
  }

  at(index: number): Line | undefined {
    let low = 0;
    let high = this.#stretches.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((this.#stretches[middle]?.from ?? 0) <= index) low = middle;
      else high = middle - 1;
    }
    const stretch = this.#stretches[low];
    const offset = index - (stretch?.from ?? 0);
    return stretch && offset >= 0 && offset < stretch.length ? stretch.line(offset) : undefined;
  }
}
