import type { SnmpValue } from '../../core/mib/varbind';
import type { Cells, TableRow } from '../../core/mib/table';
import { compareNames, type ObjectName } from './wire/objectName';
import type { AnsweredVariable } from './wire/pdu';

/** What was answered of one column, in the order of its rows. */
export interface AnsweredColumn {
  column: number;
  root: ObjectName;
  variables: AnsweredVariable[];
}

class RowCells implements Cells {
  constructor(readonly columns: readonly number[], readonly values: (SnmpValue | undefined)[]) {}

  get(column: number): SnmpValue | undefined {
    const at = this.columns.indexOf(column);
    return at < 0 ? undefined : this.values[at];
  }
}

/**
 * Puts columns together to rows, in the order of their index. Each column is in that order already, so they are merged; where all have the row,
 * which is the rule, each cell costs one comparison.
 */
export function joinColumns(answered: AnsweredColumn[]): TableRow[] {
  const numbers = answered.map(({ column }) => column);
  const behind = answered.map(({ root }) => root.stop - root.start);
  const next = answered.map(() => 0);
  const rows: TableRow[] = [];
  for (;;) {
    let first = -1;
    let name: AnsweredVariable | undefined;
    for (let at = 0; at < answered.length; at++) {
      const variable = answered[at]?.variables[next[at] ?? 0];
      if (variable && (!name || compareNames(variable, name, behind[at], behind[first]) < 0)) {
        first = at;
        name = variable;
      }
    }
    const root = answered[first]?.root;
    if (!name || !root) return rows;
    const values: (SnmpValue | undefined)[] = new Array<undefined>(answered.length).fill(undefined);
    for (let at = 0; at < answered.length; at++) {
      const place = next[at] ?? 0;
      const variable = answered[at]?.variables[place];
      if (!variable || (at !== first && compareNames(variable, name, behind[at], behind[first]) !== 0)) continue;
      values[at] = variable.value ?? undefined;
      next[at] = place + 1;
    }
    rows.push({ index: name.partsBehind(root), cells: new RowCells(numbers, values) });
  }
}
