import type { PhysicalRow } from '../mib/entity';
import { moduleClass } from './moduleTree';

/** A cage is at most so many levels above what is in it. */
const mostLevels = 3;

/**
 * Which transceiver is in each port. The alias mapping of ENTITY (RFC 6933) says it where an agent has one, for the transceiver itself, for what is below it or for what holds it; else
 * the name of the cage does, if its last word is the name of exactly one port: `Cage U1`.
 * @param interfaces entPhysicalIndex → ifIndex
 * @param names ifIndex → name of the port
 * @returns ifIndex → model, or what it is described as
 */
export function transceiversByPort(
  rows: PhysicalRow[],
  interfaces: ReadonlyMap<number, number>,
  names: ReadonlyMap<number, string>,
): Map<number, string> {
  const byIndex = new Map(rows.map((row) => [row.entPhysicalIndex, row]));
  const below = new Map<number, number>();
  for (const { entPhysicalIndex, containedIn } of rows) {
    const mapped = interfaces.get(entPhysicalIndex);
    if (mapped !== undefined && !below.has(containedIn)) below.set(containedIn, mapped);
  }
  const byName = new Map<string, number | null>();
  for (const [ifIndex, name] of names) byName.set(name, byName.has(name) ? null : ifIndex);
  const found = new Map<number, string>();
  for (const row of rows.filter((one) => moduleClass(one) === 'transceiver')) {
    const holders = holdersOf(row, byIndex);
    const mapped =
      [row, ...holders]
        .map(({ entPhysicalIndex }) => interfaces.get(entPhysicalIndex))
        .find((ifIndex) => ifIndex !== undefined) ?? below.get(row.entPhysicalIndex);
    const ifIndex = mapped ?? byName.get(holders[0]?.name.split(/\s+/).at(-1) ?? '');
    if (ifIndex !== undefined && ifIndex !== null && names.has(ifIndex) && !found.has(ifIndex))
      found.set(ifIndex, row.model || row.description);
  }
  return found;
}

/** What holds a part, the nearest first: cages and sockets, but no card or chassis. */
function holdersOf(row: PhysicalRow, byIndex: ReadonlyMap<number, PhysicalRow>): PhysicalRow[] {
  const holders: PhysicalRow[] = [];
  for (
    let at = byIndex.get(row.containedIn);
    at && holders.length < mostLevels && (at.class === 'container' || at.class === 'port');
    at = byIndex.get(at.containedIn)
  )
    holders.push(at);
  return holders;
}
