/** All that matters of a port is how it is called. */
type Named = object;
const nameOf = (port: Named): string => String((port as { name?: unknown }).name);

/** How the sockets of a model stand: in one row or two, so many in a group. */
export interface FaceplatePlan {
  rows: 1 | 2;
  groupOf?: number;
}

/** Sockets that stand together. */
export interface Block<Port extends Named> {
  key: string;
  two: boolean;
  wide: boolean;
  ports: Port[];
}

/** A line of a faceplate: a switch, a unit of a stack, or a card of a chassis. */
export interface FaceplateRow<Port extends Named> {
  /** number of the unit or the slot; empty where there is one line only */
  label: string;
  blocks: Block<Port>[];
}

/** What stands before the last number tells a card or a row of cages apart: `6/` of 6/11, `U` of U1. */
const familyOf = (port: Named): string => nameOf(port).replace(/\d+$/, '');
/** Names like 3/11 or 1/0/24 begin with the slot or the unit. */
const slotOf = (family: string): string => /^\D*(\d+)[/:](\d+[/:])*$/.exec(family)?.[1] ?? '';

/** Ports where they are on the metal: units and cards below each other, numbered sockets in groups, in one or two rows. */
export function faceplateRows<Port extends Named>(
  ports: readonly Port[],
  plan: FaceplatePlan | null,
): FaceplateRow<Port>[] {
  const families = new Map<string, Port[]>();
  for (const port of ports) {
    const known = families.get(familyOf(port));
    if (known) known.push(port);
    else families.set(familyOf(port), [port]);
  }
  const rows = new Map<string, FaceplateRow<Port>>();
  const slots = new Set([...families.keys()].map(slotOf).filter(Boolean));
  for (const [family, members] of families) {
    const label = slots.size > 1 ? slotOf(family) : '';
    let row = rows.get(label);
    if (!row) rows.set(label, (row = { label, blocks: [] }));
    row.blocks.push(...blocksOf(family, members, plan));
  }
  return [...rows.values()].sort(
    (x, y) => Number(x.label === '') - Number(y.label === '') || Number(x.label) - Number(y.label),
  );
}

function blocksOf<Port extends Named>(family: string, members: Port[], plan: FaceplatePlan | null): Block<Port>[] {
  const two = (plan?.rows ?? (members.length > 12 ? 2 : 1)) === 2 && members.length > 8;
  const size = plan?.groupOf ?? 12;
  const blocks: Block<Port>[] = [];
  for (let at = 0; at < members.length; at += size)
    blocks.push({ key: `${family} ${at}`, two, wide: family.length > 1, ports: members.slice(at, at + size) });
  return blocks;
}

/** Where an arrow key leads from a socket: along its line, or to the other socket of its pair, or the same place of the next line. */
export function neighbourSocket<Port extends Named>(
  rows: readonly FaceplateRow<Port>[],
  name: string,
  key: string,
): Port | null {
  const lines = rows.map(({ blocks }) =>
    blocks.flatMap(({ ports, two }) => ports.map((port, at) => ({ port, two, lower: two && at % 2 === 1 }))),
  );
  const line = lines.findIndex((sockets) => sockets.some(({ port }) => nameOf(port) === name));
  const sockets = lines[line] ?? [];
  const at = sockets.findIndex(({ port }) => nameOf(port) === name);
  const own = sockets[at];
  if (!own) return null;
  const step = own.two ? 2 : 1;
  switch (key) {
    case 'ArrowRight':
      return (sockets[at + step] ?? sockets[at + 1])?.port ?? null;
    case 'ArrowLeft':
      return (sockets[at - step] ?? sockets[at - 1])?.port ?? null;
    case 'ArrowDown':
      return own.two && !own.lower
        ? (sockets[at + 1]?.port ?? null)
        : (lines[line + 1]?.[Math.min(at, (lines[line + 1]?.length ?? 1) - 1)]?.port ?? null);
    case 'ArrowUp':
      return own.lower
        ? (sockets[at - 1]?.port ?? null)
        : (lines[line - 1]?.[Math.min(at, (lines[line - 1]?.length ?? 1) - 1)]?.port ?? null);
    case 'Home':
      return sockets[0]?.port ?? null;
    case 'End':
      return sockets.at(-1)?.port ?? null;
    default:
      return null;
  }
}
