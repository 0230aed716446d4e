import { verdicts, type ReadinessReason, type Verdict } from './readiness';

/** What holds a device back, and can be done away with: by the kind of the reason. */
export const obstacles = [
  'memory',
  'hardware',
  'cover',
  'flash',
  'boot',
  'intermediate',
  'component',
  'mixed',
  'configuration',
  'clock',
  'image',
  'maintenance',
  'stage',
  'answer',
  'unknown',
] as const satisfies readonly ReadinessReason['kind'][];
export type Obstacle = (typeof obstacles)[number];

const blocking: ReadonlySet<string> = new Set<Obstacle>(['memory', 'hardware', 'cover']);
const asking: ReadonlySet<string> = new Set<Obstacle>(['answer', 'unknown']);
const isObstacle = (kind: string): kind is Obstacle => (obstacles as readonly string[]).includes(kind);

/** A component as it was judged. */
export interface JudgedRow {
  id: string;
  deviceId: number;
  device: string;
  site: string;
  model: string;
  family: string;
  target: string;
  verdict: Verdict;
  reasons: readonly ReadinessReason[];
}

/** What is supposed to be done: obstacles everywhere, or memory for so many devices of a model. */
export interface Supposed {
  done: ReadonlySet<Obstacle>;
  memoryFor: readonly { model: string; count: number }[];
}

/** What holds one back, each kind once. */
export const heldBy = ({ reasons }: Pick<JudgedRow, 'reasons'>): Set<Obstacle> =>
  new Set(reasons.flatMap(({ kind }) => (isObstacle(kind) ? [kind] : [])));

/** The verdict where some of what holds it back is done away with. Who is there stays there. */
export function verdictWithout(row: Pick<JudgedRow, 'verdict' | 'reasons'>, done: ReadonlySet<Obstacle>): Verdict {
  if (row.verdict === 'already there') return row.verdict;
  const held = [...heldBy(row)];
  // one that is there but not in one piece is there once it is
  if (row.reasons.some(({ kind }) => kind === 'current' || kind === 'newer'))
    return held.every((kind) => done.has(kind)) ? 'already there' : row.verdict;
  const left = held.filter((kind) => !done.has(kind));
  if (left.some((kind) => blocking.has(kind))) return 'blocked';
  if (left.some((kind) => asking.has(kind))) return 'unknown';
  return left.length > 0 ? 'ready after' : 'ready';
}

/** What comes of it. */
export interface Outlook {
  verdicts: { verdict: Verdict; now: number; then: number }[];
  /** by obstacle: how many it holds back, and how many it alone does */
  obstacles: { kind: Obstacle; held: number; alone: number }[];
  /** what would have to be had: how many of a model lack it */
  shopping: { kind: Obstacle; model: string; needed: string; count: number }[];
  /** who becomes ready */
  becomes: JudgedRow[];
}

/** How many would have which verdict if some of what holds them back were done. */
export function outlookOf(rows: readonly JudgedRow[], { done, memoryFor }: Supposed): Outlook {
  const left = new Map(memoryFor.map(({ model, count }) => [model, count]));
  const now = new Map<Verdict, number>();
  const then = new Map<Verdict, number>();
  const counts = new Map<Obstacle, { held: number; alone: number }>();
  const shopping = new Map<string, Outlook['shopping'][number]>();
  const becomes: JudgedRow[] = [];
  const add = (to: Map<Verdict, number>, verdict: Verdict) => to.set(verdict, (to.get(verdict) ?? 0) + 1);
  for (const row of rows) {
    const held = heldBy(row);
    for (const kind of held) {
      const own = counts.get(kind) ?? { held: 0, alone: 0 };
      counts.set(kind, own);
      own.held++;
      if (held.size === 1) own.alone++;
    }
    const given = new Set(done);
    const modules = left.get(row.model) ?? 0;
    if (modules > 0 && held.has('memory')) {
      left.set(row.model, modules - 1);
      given.add('memory');
    }
    const after = verdictWithout(row, given);
    add(now, row.verdict);
    add(then, after);
    if (after === 'ready' && row.verdict !== 'ready') becomes.push(row);
    for (const { kind, needed } of row.reasons) {
      if (!isObstacle(kind) || !bought.has(kind) || needed === null) continue;
      const key = `${kind}\t${row.model}\t${needed}`;
      const line = shopping.get(key) ?? { kind, model: row.model, needed, count: 0 };
      shopping.set(key, line);
      line.count++;
    }
  }
  return {
    verdicts: verdicts.map((verdict) => ({ verdict, now: now.get(verdict) ?? 0, then: then.get(verdict) ?? 0 })),
    obstacles: obstacles.flatMap((kind) => {
      const own = counts.get(kind);
      return own ? [{ kind, ...own }] : [];
    }),
    shopping: [...shopping.values()].sort((x, y) => y.count - x.count || (x.model < y.model ? -1 : 1)),
    becomes,
  };
}

/** What somebody would have to buy. */
const bought: ReadonlySet<Obstacle> = new Set<Obstacle>(['memory', 'hardware', 'cover']);
