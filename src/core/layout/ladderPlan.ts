import type { HostLadder } from '../topology/hostLadder';

export interface Rung {
  key: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface LadderPlan {
  /** where the columns begin */
  columns: Record<Kind, { x: number; width: number }>;
  machines: Rung[];
  switches: Rung[];
  adapters: Rung[];
  plugs: Rung[];
  /** from the right side of one rung to the left side of another */
  lines: {
    key: string;
    from: Rung;
    to: Rung;
    /** whose way it is a part of; null for that of a machine */ adapter: string | null;
  }[];
  width: number;
  height: number;
}

type Kind = 'machines' | 'switches' | 'adapters' | 'plugs';
const kinds: readonly Kind[] = ['machines', 'switches', 'adapters', 'plugs'];
/** Widths where there is room for all that is written on a rung, and where there is little. */
const widths: Record<Kind, { wide: number; narrow: number }> = {
  machines: { wide: 168, narrow: 148 },
  switches: { wide: 196, narrow: 172 },
  adapters: { wide: 132, narrow: 88 },
  plugs: { wide: 212, narrow: 182 },
};
/** Between the columns the lines run. */
const between = { wide: 64, narrow: 32 };

/** Where the columns stand in a room: as wide as they like, or closer together until nothing more can give way. */
function columnsIn(room: number): Record<Kind, { x: number; width: number }> {
  const sum = (size: 'wide' | 'narrow') => kinds.reduce((total, kind) => total + widths[kind][size], 3 * between[size]);
  const ease = Math.min(1, Math.max(0, (room - sum('narrow')) / (sum('wide') - sum('narrow'))));
  const eased = ({ wide, narrow }: { wide: number; narrow: number }) => Math.floor(narrow + ease * (wide - narrow));
  let x = 0;
  return Object.fromEntries(
    kinds.map((kind) => {
      const column = { x, width: eased(widths[kind]) };
      x += column.width + eased(between);
      return [kind, column];
    }),
  ) as Record<Kind, { x: number; width: number }>;
}

const [single, double, groupLine] = [24, 40, 16];
const [gap, blockGap] = [6, 20];

/**
 * Where the rungs of a ladder stand, from machines at the left to ports of switches at the right: each virtual switch is a block with its machines and its uplinks beside it, what belongs to none comes last.
 * @param room how wide it may be, in the units of the plan
 */
export function ladderPlan({ machines, switches, adapters }: HostLadder, room = Infinity): LadderPlan {
  const columns = columnsIn(room);
  const plan: LadderPlan = {
    columns,
    machines: [],
    switches: [],
    adapters: [],
    plugs: [],
    lines: [],
    width: columns.plugs.x + columns.plugs.width,
    height: 0,
  };
  const placed = new Map<string, Rung>();
  let y = 0;
  const rung = (list: Rung[], kind: Kind, key: string, top: number, height: number): Rung => {
    const found = { key, ...columns[kind], y: top, height };
    list.push(found);
    return found;
  };
  const line = (from: Rung, to: Rung, adapter: string | null) =>
    plan.lines.push({ key: `${from.key} ${to.key} ${plan.lines.length}`, from, to, adapter });
  const heightOf = (count: number, height: number) => (count === 0 ? 0 : count * (height + gap) - gap);
  const putAdapters = (own: HostLadder['adapters'], top: number): Rung[] =>
    own.map((adapter, at) => {
      const stands = rung(plan.adapters, 'adapters', adapter.name, top + at * (double + gap), double);
      if (adapter.plug) line(stands, rung(plan.plugs, 'plugs', adapter.name, stands.y, double), adapter.name);
      return stands;
    });
  for (const own of switches) {
    // a machine with adapters on several switches stands with the first of them
    const fresh = machines.filter(
      (machine) => !placed.has(machine.name) && machine.adapters.some((adapter) => adapter.switch === own.name),
    );
    const uplinks = adapters.filter(({ team }) => team === own.name);
    const box = double + Math.max(0, own.groups.length) * groupLine;
    const [left, right] = [heightOf(fresh.length, single), heightOf(uplinks.length, double)];
    const height = Math.max(left, box, right);
    const here = rung(plan.switches, 'switches', own.name, y + (height - box) / 2, box);
    fresh.forEach((machine, at) =>
      placed.set(
        machine.name,
        rung(plan.machines, 'machines', machine.name, y + (height - left) / 2 + at * (single + gap), single),
      ),
    );
    for (const stands of putAdapters(uplinks, y + (height - right) / 2)) line(here, stands, stands.key);
    y += height + blockGap;
  }
  for (const own of switches) {
    for (const machine of machines) {
      const [from, to] = [placed.get(machine.name), plan.switches.find(({ key }) => key === own.name)];
      if (from && to) for (const adapter of machine.adapters) if (adapter.switch === own.name) line(from, to, null);
    }
  }
  const alone = machines.filter(({ name }) => !placed.has(name));
  const free = adapters.filter(({ team }) => team === null);
  alone.forEach((machine, at) => rung(plan.machines, 'machines', machine.name, y + at * (single + gap), single));
  putAdapters(free, y);
  y += Math.max(heightOf(alone.length, single), heightOf(free.length, double));
  plan.height = Math.max(
    0,
    ...[plan.machines, plan.switches, plan.adapters, plan.plugs].flat().map((own) => own.y + own.height),
  );
  return plan;
}
