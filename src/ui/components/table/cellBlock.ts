import type { ThingField } from '@/core/things/thing';
import type { ThingRow } from '../../lib/api';
import { fieldText } from '../../lib/format';

/** A rectangle of cells, from the one it began with to the one it reaches. */
export class CellBlock {
  private constructor(
    readonly fromLine: number,
    readonly fromColumn: number,
    readonly toLine: number,
    readonly toColumn: number,
  ) {}

  static at(line: number, column: number): CellBlock {
    return new CellBlock(line, column, line, column);
  }

  to(line: number, column: number): CellBlock {
    return new CellBlock(this.fromLine, this.fromColumn, line, column);
  }

  /** One step further by an arrow key, within the table. */
  grown(key: string, lines: number, columns: number): CellBlock {
    const [down, right] = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[key] ?? [
      0, 0,
    ];
    const within = (value: number, end: number) => Math.max(0, Math.min(end - 1, value));
    return this.to(within(this.toLine + (down ?? 0), lines), within(this.toColumn + (right ?? 0), columns));
  }

  get lines(): [first: number, last: number] {
    return [Math.min(this.fromLine, this.toLine), Math.max(this.fromLine, this.toLine)];
  }

  get columns(): [first: number, last: number] {
    return [Math.min(this.fromColumn, this.toColumn), Math.max(this.fromColumn, this.toColumn)];
  }

  /** A single cell is no block: it is only where one would begin. */
  holds(line: number, column: number): boolean {
    const [[top, bottom], [left, right]] = [this.lines, this.columns];
    return (top !== bottom || left !== right) && line >= top && line <= bottom && column >= left && column <= right;
  }

  /** The cells as a spreadsheet takes them: tabs between cells, a line for each row; heads of groups have no cells. */
  async text(columns: ThingField[], rowFor: (line: number) => Promise<ThingRow | undefined>): Promise<string> {
    const [[top, bottom], [left, right]] = [this.lines, this.columns];
    const texts: string[] = [];
    for (let line = top; line <= Math.min(bottom, top + mostCopied - 1); line++) {
      const row = await rowFor(line);
      if (row)
        texts.push(
          columns
            .slice(left, right + 1)
            .map((column) => fieldText(row[column.name], column).replace(/[\t\r\n]+/g, ' '))
            .join('\t'),
        );
    }
    return texts.join('\n');
  }
}

/** Longer blocks are an export. */
const mostCopied = 10_000;
