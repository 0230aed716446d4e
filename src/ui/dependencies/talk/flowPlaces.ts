import type { MatrixCell, TalkMatrix } from '@/core/flow/talkMatrix';

export interface FlowNode {
  name: string;
  share: number;
  /** where it begins, and how tall it is */
  y: number;
  tall: number;
}

export interface FlowBand {
  from: FlowNode;
  to: FlowNode;
  /** middles of its two ends */
  y0: number;
  y1: number;
  width: number;
  cell: Pick<MatrixCell, 'conversations' | 'share' | 'age'>;
}

export interface FlowPlaces {
  asks: FlowNode[];
  asked: FlowNode[];
  bands: FlowBand[];
  height: number;
}

/** More at one side nobody reads: the rest stands together. */
const mostAtSide = 14;
const [leastTall, gap, least] = [15, 5, 1.5];
const others = 'all others';
const ageRank = ['now', 'rare', 'remembered'];

/** Who asks at the left, who is asked at the right, as tall as their shares, in the order of the matrix; bands between them as wide as what is said. @param tallest so tall the whole is at most, as far as its names can be read */
export function flowPlaces({ names, cells }: Pick<TalkMatrix, 'names' | 'cells'>, tallest = 296): FlowPlaces {
  const sums = (side: 'row' | 'column') => {
    const found = new Map<number, number>();
    for (const cell of cells) found.set(cell[side], (found.get(cell[side]) ?? 0) + cell.share);
    return found;
  };
  const nodesOf = (side: 'row' | 'column') => {
    const shares = sums(side);
    const ranked = [...shares].sort((x, y) => y[1] - x[1]).map(([at]) => at);
    const shown = new Set(ranked.length > mostAtSide ? ranked.slice(0, mostAtSide - 1) : ranked);
    const nodes: FlowNode[] = names.flatMap((name, at) =>
      shown.has(at) && name !== others ? [{ name, share: shares.get(at) ?? 0, y: 0, tall: 0 }] : [],
    );
    const rest = [...shares].filter(([at]) => !shown.has(at) || names[at] === others);
    if (rest.length > 0)
      nodes.push({ name: others, share: rest.reduce((sum, [, share]) => sum + share, 0), y: 0, tall: 0 });
    const byName = new Map(nodes.map((node) => [node.name, node]));
    return { nodes, of: (at: number) => byName.get(names[at] ?? '') ?? byName.get(others) };
  };
  const [left, right] = [nodesOf('row'), nodesOf('column')];
  const room = Math.min(roomFor(left.nodes, tallest), roomFor(right.nodes, tallest));
  const stack = (nodes: FlowNode[]): number => {
    let y = 0;
    for (const node of nodes) {
      node.y = y;
      node.tall = Math.max(leastTall, node.share * room);
      y += node.tall + gap;
    }
    return y - gap;
  };
  const height = Math.max(stack(left.nodes), stack(right.nodes));
  const together = new Map<string, FlowBand>();
  for (const { row, column, conversations, share, age } of cells) {
    const [from, to] = [left.of(row), right.of(column)];
    if (!from || !to) continue;
    const key = `${from.name}\n${to.name}`;
    const known = together.get(key);
    if (!known) {
      together.set(key, { from, to, y0: 0, y1: 0, width: 0, cell: { conversations, share, age } });
      continue;
    }
    known.cell = {
      conversations: known.cell.conversations + conversations,
      share: known.cell.share + share,
      age: ageRank.indexOf(age) < ageRank.indexOf(known.cell.age) ? age : known.cell.age,
    };
  }
  const bands = [...together.values()];
  const lay = (nodes: readonly FlowNode[], end: 'from' | 'to', place: 'y0' | 'y1') => {
    const far = end === 'from' ? 'to' : 'from';
    for (const node of nodes) {
      const own = bands.filter((band) => band[end] === node).sort((x, y) => x[far].y - y[far].y);
      // thin bands are drawn wider than they are: they stand in the middle of what they have
      let y = node.y + (node.tall - node.share * room) / 2;
      for (const band of own) {
        band[place] = y + (band.cell.share * room) / 2;
        y += band.cell.share * room;
      }
    }
  };
  for (const band of bands) band.width = Math.max(least, band.cell.share * room);
  lay(left.nodes, 'from', 'y0');
  lay(right.nodes, 'to', 'y1');
  return { asks: left.nodes, asked: right.nodes, bands, height };
}

/** How tall all shares of a side may be together so that it fits: what is too thin to be read takes more than its share. */
function roomFor(nodes: readonly FlowNode[], tallest: number): number {
  const tall = (room: number) =>
    nodes.reduce((sum, { share }) => sum + Math.max(leastTall, share * room), (nodes.length - 1) * gap);
  let [low, high] = [0, tallest];
  for (let halved = 0; halved < 30; halved++) {
    const middle = (low + high) / 2;
    if (tall(middle) > tallest) high = middle;
    else low = middle;
  }
  return Math.max(low, tallest / 4);
}
