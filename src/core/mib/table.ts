import { isBelow } from '../values/oid';
import type { SnmpValue, Varbind } from './varbind';

/** The cells of a row by column number. */
export interface Cells {
  get(column: number): SnmpValue | undefined;
}

/** A row of a conceptual table: its index as numbers, and its cells. */
export interface TableRow {
  index: number[];
  cells: Cells;
}

/** Rows in the order of their index. A live agent makes them when they are asked for, each time anew. */
export type TableRows = Iterable<TableRow>;

/** What an agent answered: single objects by name, and tables row by row. */
export class Answers {
  readonly objects = new Map<string, SnmpValue>();
  readonly tables = new Map<string, TableRows[]>();

  addObjects(varbinds: Iterable<Varbind>): void {
    for (const { oid, value } of varbinds) this.objects.set(oid, value);
  }

  addRows(entry: string, rows: TableRows): void {
    const known = this.tables.get(entry);
    if (known) known.push(rows);
    else this.tables.set(entry, [rows]);
  }
}

/** Answers as a parser takes them: sorted by table already, or the varbinds of a walk, of which it takes those of its own tables. */
export type Answered = Answers | readonly Varbind[];

/**
 * The rows of a table.
 * @param entry object identifier of the entry, e.g. ifEntry `1.3.6.1.2.1.2.2.1`
 */
export function tableRows(entry: string, answered: Answered): TableRow[] {
  if (answered instanceof Answers) return (answered.tables.get(entry) ?? []).flatMap((read) => [...read]);
  const rows = new Map<string, { index: number[]; cells: Map<number, SnmpValue> }>();
  for (const { oid, value } of answered) {
    if (!isBelow(entry, oid)) continue;
    const behindColumn = oid.indexOf('.', entry.length + 1);
    if (behindColumn < 0) continue;
    const key = oid.slice(behindColumn + 1);
    let row = rows.get(key);
    if (!row) rows.set(key, (row = { index: key.split('.').map(Number), cells: new Map() }));
    row.cells.set(Number(oid.slice(entry.length + 1, behindColumn)), value);
  }
  return [...rows.values()];
}

/** The scalar object whose instance is `object.0`. */
export function scalar(object: string, answered: Answered): SnmpValue | undefined {
  const name = `${object}.0`;
  if (answered instanceof Answers) return answered.objects.get(name);
  return answered.find(({ oid }) => oid === name)?.value;
}

/**
 * A part of an index that says its own length first (SMIv2, RFC 2578 section 7.7).
 * @returns the part and where the next one begins; null when the index is too short
 */
export function lengthPrefixed(index: number[], at: number): { part: number[]; next: number } | null {
  const length = index[at];
  if (length === undefined || at + 1 + length > index.length) return null;
  return { part: index.slice(at + 1, at + 1 + length), next: at + 1 + length };
}

/** The port numbers whose bit is set in a PortList: the highest bit of the first octet is port 1 (RFC 4363). */
export function portsOfBitmap(octets: Uint8Array): number[] {
  const ports: number[] = [];
  for (let octet = 0; octet < octets.length; octet++) {
    const bits = octets[octet] ?? 0;
    for (let bit = 0; bit < 8; bit++) if (bits & (0x80 >> bit)) ports.push(octet * 8 + bit + 1);
  }
  return ports;
}
