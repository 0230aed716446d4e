import type { PhysicalRow } from '../mib/entity';
import type { PoweringPort } from '../mib/powerEthernet';

/** A socket of a box: an Ethernet interface that one can plug something into. */
export interface Socket {
  ifIndex: number;
  name: string;
}

/** Which socket a powering port is. */
export interface PoweringSocket {
  port: PoweringPort;
  /** why it may be another one; null where it is this without doubt. What is in doubt is never written to */
  doubt: string | null;
}

/** What ENTITY-MIB (RFC 6933) tells of the sockets. */
export interface SocketParts {
  rows: readonly PhysicalRow[];
  /** entPhysicalIndex → ifIndex (entAliasMappingTable) */
  interfaces: ReadonlyMap<number, number>;
}

/** By place in the table of powering ports: the ifIndex it stands for. */
type Reading = number[];

/**
 * Which socket each powering port is, by ifIndex. RFC 3621 ties the two by no object: `pethPsePortGroupIndex` is a box of a stack or a module in a rack, `pethPsePortIndex` counts within
 * it, among all sockets and not only among those that give power. So the table is read in the ways that agents write it:
 *
 * - by ENTITY-MIB: the socket at that position of the part that has the number of the group,
 * - by name: the socket whose name ends with the number of the port and has that of the group before it,
 * - by ifIndex, where every index is that of a socket: against the standard, and widely done,
 * - by counting the sockets of the box, or of all boxes where every socket gives power.
 *
 * A way holds only if it gives every row of the table a socket of its own. Where those that hold disagree nothing is said; a way that rests on counting alone is in doubt.
 */
export function poweringSockets(
  ports: readonly PoweringPort[],
  sockets: readonly Socket[],
  parts: SocketParts = { rows: [], interfaces: new Map() },
): Map<number, PoweringSocket> {
  if (ports.length === 0) return new Map();
  const named = [byEntity(ports, sockets, parts), byName(ports, sockets)].filter((one) => one !== null);
  const indexed = byIfIndex(ports, sockets);
  const counted = byCount(ports, sockets);
  const told = (reading: Reading, doubt: string | null) =>
    new Map(ports.map((port, at) => [reading[at] ?? 0, { port, doubt }]));
  const [first, second] = named;
  if (first) {
    if (second && !agree(first, second)) return new Map();
    // numbers that no box of so many sockets counts up to are ifIndexes
    if (indexed && !mayCount(ports, sockets) && !agree(first, indexed)) return new Map();
    return told(first, null);
  }
  if (indexed) {
    if (!mayCount(ports, sockets) || (counted && agree(indexed, counted))) return told(indexed, null);
    return told(indexed, 'its number may be that of an interface, or count the sockets: nothing else tells which');
  }
  return counted ? told(counted, 'its agent does not say which socket it is: sockets were counted') : new Map();
}

const agree = (one: Reading, other: Reading): boolean => one.every((ifIndex, at) => ifIndex === other[at]);

/** Each row has one socket, and no socket two rows. */
function whole(found: (number | undefined)[]): Reading | null {
  const reading = found.filter((ifIndex) => ifIndex !== undefined);
  return reading.length === found.length && new Set(reading).size === reading.length ? reading : null;
}

/** Whether the numbers could count the sockets of the box. */
const mayCount = (ports: readonly PoweringPort[], sockets: readonly Socket[]): boolean =>
  ports.every(({ port }) => port <= sockets.length);

function byIfIndex(ports: readonly PoweringPort[], sockets: readonly Socket[]): Reading | null {
  const known = new Set(sockets.map(({ ifIndex }) => ifIndex));
  return whole(ports.map(({ port }) => (known.has(port) ? port : undefined)));
}

/** The standard counts within a group: one group among all sockets; several, where each socket of each gives power. */
function byCount(ports: readonly PoweringPort[], sockets: readonly Socket[]): Reading | null {
  const inOrder = sockets.map(({ ifIndex }) => ifIndex).sort((x, y) => x - y);
  const groups = [...new Set(ports.map(({ group }) => group))].sort((x, y) => x - y);
  if (groups.length === 1) return whole(ports.map(({ port }) => inOrder[port - 1]));
  if (ports.length !== sockets.length) return null;
  const before = new Map<number, number>();
  let sum = 0;
  for (const group of groups) {
    const own = ports.filter((one) => one.group === group).map(({ port }) => port);
    if (Math.max(...own) !== own.length) return null;
    before.set(group, sum);
    sum += own.length;
  }
  return whole(ports.map(({ group, port }) => inOrder[(before.get(group) ?? 0) + port - 1]));
}

const numbersOf = (name: string): number[] => (name.match(/\d+/g) ?? []).map(Number);
/** What names of one kind of socket have in common. */
const patternOf = (name: string): string => name.replace(/\d+/g, '#');

/** By the numbers in names, among sockets that are called alike, or else among all. */
function byName(ports: readonly PoweringPort[], sockets: readonly Socket[]): Reading | null {
  const kinds = new Map<string, Socket[]>();
  for (const socket of sockets) {
    const pattern = patternOf(socket.name);
    kinds.set(pattern, [...(kinds.get(pattern) ?? []), socket]);
  }
  const readings = [...kinds.values()].flatMap((own) => inNames(ports, own));
  const all = readings.length > 0 ? readings : inNames(ports, sockets);
  const [first, ...others] = all;
  return first && others.every((other) => agree(first, other)) ? first : null;
}

/** For each place in the name where the number of the group may stand, whether every row finds its socket. */
function inNames(ports: readonly PoweringPort[], sockets: readonly Socket[]): Reading[] {
  const numbered = sockets.map(({ ifIndex, name }) => ({ ifIndex, numbers: numbersOf(name) }));
  const isOneGroup = new Set(ports.map(({ group }) => group)).size === 1;
  const longest = Math.max(0, ...numbered.map(({ numbers }) => numbers.length));
  const places = [...Array(Math.max(0, longest - 1)).keys()];
  const found = places.map((place) =>
    whole(
      ports.map(({ group, port }) =>
        only(numbered.filter(({ numbers }) => numbers[place] === group && numbers.at(-1) === port)),
      ),
    ),
  );
  const readings = found.filter((reading) => reading !== null);
  // a box that is alone tells no number of its own in its names
  if (readings.length > 0 || !isOneGroup) return readings;
  const alone = whole(ports.map(({ port }) => only(numbered.filter(({ numbers }) => numbers.at(-1) === port))));
  return alone ? [alone] : [];
}

const only = (found: readonly { ifIndex: number }[]): number | undefined =>
  found.length === 1 ? found[0]?.ifIndex : undefined;

/** By position in the part that has the number of the group: `entPhysicalParentRelPos` of both. */
function byEntity(
  ports: readonly PoweringPort[],
  sockets: readonly Socket[],
  { rows, interfaces }: SocketParts,
): Reading | null {
  const known = new Set(sockets.map(({ ifIndex }) => ifIndex));
  const byIndex = new Map(rows.map((row) => [row.entPhysicalIndex, row]));
  const standing = rows.flatMap((row) => {
    const ifIndex = interfaces.get(row.entPhysicalIndex);
    if (row.class !== 'port' || row.position < 0 || ifIndex === undefined || !known.has(ifIndex)) return [];
    return [{ ifIndex, position: row.position, boxes: boxesOf(row, byIndex) }];
  });
  if (standing.length === 0) return null;
  const isOneBox = new Set(standing.map(({ boxes }) => boxes.join())).size === 1;
  const isOneGroup = new Set(ports.map(({ group }) => group)).size === 1;
  return whole(
    ports.map(({ group, port }) =>
      only(
        standing.filter(
          ({ position, boxes }) => position === port && (boxes.includes(group) || (isOneBox && isOneGroup)),
        ),
      ),
    ),
  );
}

const deepest = 20;

/** Positions of the chassis and modules that a part stands in. */
function boxesOf(row: PhysicalRow, byIndex: ReadonlyMap<number, PhysicalRow>): number[] {
  const positions: number[] = [];
  let at = byIndex.get(row.containedIn);
  for (let steps = 0; at && steps < deepest; steps++, at = byIndex.get(at.containedIn))
    if (at.class === 'chassis' || at.class === 'module') positions.push(at.position);
  return positions;
}
