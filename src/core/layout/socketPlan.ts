import { faceplateRows, type FaceplatePlan, type FaceplateRow } from './faceplateRows';

/** Where sockets may stand, in units of the plane. */
export interface SocketRoom {
  width: number;
  height: number;
}

/** Sockets in a room: `x` and `y` of the upper left corner of each, all `size` wide and high with what is between them. */
export interface SocketPlan<Port extends object> {
  size: number;
  sockets: { port: Port; x: number; y: number }[];
  /** as one walks along them */
  rows: FaceplateRow<Port>[];
}

/** between two groups, in sockets */
const groupGap = 0.4;
/** between two columns of cards */
const columnGap = 1;

interface Line<Port extends object> {
  blocks: FaceplateRow<Port>['blocks'];
  /** in sockets */
  wide: number;
  high: number;
}

const sum = (values: readonly number[]): number => values.reduce((all, one) => all + one, 0);

/** Lines below each other in so many columns, filled one after the other. */
function inColumns<Port extends object>(
  lines: readonly Line<Port>[],
  columns: number,
): { lines: readonly Line<Port>[]; wide: number; high: number }[] {
  const each = Math.ceil(lines.length / columns);
  return Array.from({ length: Math.ceil(lines.length / each) }, (_, at) => {
    const own = lines.slice(at * each, (at + 1) * each);
    return { lines: own, wide: Math.max(...own.map(({ wide }) => wide)), high: sum(own.map(({ high }) => high)) };
  });
}

/**
 * Sockets as on the metal, made so small that all of them fit into a room, but no larger than `largest`. Cards of a chassis stand below each other,
 * or beside each other too where they are larger so.
 */
export function planSockets<Port extends object>(
  ports: readonly Port[],
  plan: FaceplatePlan | null,
  { width, height }: SocketRoom,
  largest: number,
): SocketPlan<Port> {
  const rows = faceplateRows(ports, plan);
  const lines = rows.map(({ blocks }): Line<Port> => ({
    blocks,
    high: blocks.some(({ two }) => two) ? 2 : 1,
    wide:
      sum(blocks.map(({ two, ports: { length } }) => (two ? Math.ceil(length / 2) : length))) +
      groupGap * (blocks.length - 1),
  }));
  let best: { size: number; columns: ReturnType<typeof inColumns<Port>> } = { size: 0, columns: [] };
  for (let count = 1; count <= lines.length; count++) {
    const columns = inColumns(lines, count);
    const wide = sum(columns.map((column) => column.wide)) + columnGap * (columns.length - 1);
    const size = Math.min(largest, width / wide, height / Math.max(...columns.map(({ high }) => high)));
    if (size > best.size) best = { size, columns };
  }
  const { size, columns } = best;
  const sockets: SocketPlan<Port>['sockets'] = [];
  let left = 0;
  for (const column of columns) {
    let y = 0;
    for (const { blocks, high } of column.lines) {
      let x = left;
      for (const { two, ports: members } of blocks) {
        members.forEach((port, at) =>
          sockets.push({ port, x: x + (two ? Math.floor(at / 2) : at) * size, y: y + (two ? (at % 2) * size : 0) }),
        );
        x += ((two ? Math.ceil(members.length / 2) : members.length) + groupGap) * size;
      }
      y += high * size;
    }
    left += (column.wide + columnGap) * size;
  }
  return { size, sockets, rows };
}
