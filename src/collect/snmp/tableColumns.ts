import type { SnmpValue } from '../../core/mib/varbind';
import type { Cells, TableRow, TableRows } from '../../core/mib/table';
import { compareNames, type ObjectName } from './wire/objectName';
import { AnsweredVariable } from './wire/pdu';

/** Numbers kept of each variable: which message, where its name starts and stops there. The value stands behind the name. */
const numbersOfEach = 3;

/** What was answered of one column, in the order of its rows: the messages as they came, and where in them each variable stands. */
export class AnsweredColumn {
  readonly #messages: Buffer[] = [];
  #places = new Int32Array(32 * numbersOfEach);
  #length = 0;

  constructor(
    readonly column: number,
    readonly root: ObjectName,
  ) {}

  get length(): number {
    return this.#length;
  }

  add({ octets, start, stop }: AnsweredVariable): void {
    if (this.#messages.at(-1) !== octets) this.#messages.push(octets);
    const at = this.#length++ * numbersOfEach;
    if (at === this.#places.length) {
      const grown = new Int32Array(at * 2);
      grown.set(this.#places);
      this.#places = grown;
    }
    this.#places[at] = this.#messages.length - 1;
    this.#places[at + 1] = start;
    this.#places[at + 2] = stop;
  }

  clear(): void {
    this.#messages.length = 0;
    this.#length = 0;
  }

  at(place: number): AnsweredVariable | undefined {
    if (place >= this.#length) return undefined;
    const from = place * numbersOfEach;
    const message = this.#messages[this.#places[from] ?? 0];
    const stop = this.#places[from + 2] ?? 0;
    return message && new AnsweredVariable(message, this.#places[from + 1] ?? 0, stop, stop);
  }
}

class RowCells implements Cells {
  constructor(
    readonly columns: readonly number[],
    readonly variables: (AnsweredVariable | undefined)[],
  ) {}

  get(column: number): SnmpValue | undefined {
    const at = this.columns.indexOf(column);
    return at < 0 ? undefined : (this.variables[at]?.value ?? undefined);
  }
}

/** The rows of a table whose columns were read side by side. */
export class JoinedColumns implements TableRows {
  constructor(readonly answered: AnsweredColumn[]) {}

  /**
   * Puts columns together to rows, in the order of their index. Each column is in that order already, so they are merged; where all have the row,
   * which is the rule, each cell costs one comparison.
   */
  *[Symbol.iterator](): Generator<TableRow> {
    const { answered } = this;
    const numbers = answered.map(({ column }) => column);
    const behind = answered.map(({ root }) => root.stop - root.start);
    const next = answered.map(() => 0);
    const heads = answered.map((column) => column.at(0));
    for (;;) {
      let first = -1;
      let name: AnsweredVariable | undefined;
      for (let at = 0; at < answered.length; at++) {
        const variable = heads[at];
        if (variable && (!name || compareNames(variable, name, behind[at], behind[first]) < 0)) {
          first = at;
          name = variable;
        }
      }
      const root = answered[first]?.root;
      if (!name || !root) return;
      const variables: (AnsweredVariable | undefined)[] = new Array<undefined>(answered.length).fill(undefined);
      for (let at = 0; at < answered.length; at++) {
        const variable = heads[at];
        if (!variable || (at !== first && compareNames(variable, name, behind[at], behind[first]) !== 0)) continue;
        variables[at] = variable;
        heads[at] = answered[at]?.at((next[at] = (next[at] ?? 0) + 1));
      }
      yield { index: name.partsBehind(root), cells: new RowCells(numbers, variables) };
    }
  }
}
