import { isBelow } from '../values/oid';
import type { SnmpValue, Varbind } from './varbind';

/** A row of a conceptual table: its index as numbers and its cells by column number. */
export interface TableRow {
  index: number[];
  cells: Map<number, SnmpValue>;
}

/**
 * Groups varbinds below a table's entry object into rows. Varbinds of other tables are passed over,
 * so that one walk's answer can be given to several parsers.
 * @param entry object identifier of the entry, e.g. ifEntry `1.3.6.1.2.1.2.2.1`
 */
export function tableRows(entry: string, varbinds: Iterable<Varbind>): TableRow[] {
  const rows = new Map<string, TableRow>();
  for (const { oid, value } of varbinds) {
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

/** The scalar `name.0` among varbinds. */
export function scalar(object: string, varbinds: Iterable<Varbind>): SnmpValue | undefined {
  for (const { oid, value } of varbinds) if (oid === `${object}.0`) return value;
  return undefined;
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
