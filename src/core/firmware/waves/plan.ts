import type { PreparedGraph } from '../../dependency/graph';
import { devicesBetween } from '../../dependency/onlyWays';
import type { Rehearsals } from '../../dependency/rehearse';
import type { Steps } from '../../steps';
import { TogetherLost } from './togetherLost';
import { Ways } from './ways';

/** A device that is to be upgraded. */
export interface WaveTask {
  /** its number in the graph */
  device: number;
  name: string;
  site: string;
  /** how long it is away, all in all */
  minutes: number;
  /** whose target it goes to: stages are counted for each */
  target: string;
  /** 0 for those that try it out, then the early ones, then the rest */
  stage: number;
  /** so long after the stage before, in minutes */
  waitMinutes: number;
  /** not before this moment, milliseconds since the epoch */
  notBefore?: number;
  /** it stands by for others: it goes at the end */
  isSpare: boolean;
}

/** A time in which one may work, in milliseconds since the epoch. */
export interface WaveWindow {
  start: number;
  end: number;
}

export interface WaveRules {
  /** so many devices at the same time */
  crew: number;
  /** so many of a site at the same time */
  perSite: number;
  /** applications that may be stopped, by their numbers: somebody said so */
  mayStop?: ReadonlySet<number>;
}

export interface Placed {
  /** its place among the tasks */
  task: number;
  /** why it stands there, in words */
  why: string[];
  /** tasks that it does not go with */
  apart: number[];
}

export interface Wave extends WaveWindow {
  placed: Placed[];
}

export interface WavePlan {
  waves: Wave[];
  unplaced: { task: number; why: string }[];
  /** how often it was looked what a set of devices would take down */
  rehearsed: number;
}

const minuteMs = 60_000;

/** Which go before which: by their places among the tasks. */
export type Before = readonly (readonly [first: number, then: number])[];

/** Far ends go before near ends, where the way to them leads through these: what is done at a far end is to be seen. */
export function farEndsFirst(tasks: readonly Pick<WaveTask, 'device'>[], { ways }: Pick<Rehearsals, 'ways'>): Before {
  const at = new Map(tasks.map(({ device }, nth) => [device, nth]));
  return tasks.flatMap(({ device }, far) =>
    devicesBetween(ways, device).flatMap((near): [number, number][] => {
      const nth = at.get(near);
      return nth === undefined || nth === far ? [] : [[far, nth]];
    }),
  );
}

/**
 * Puts devices into waves: those of a wave are away at the same time, and the next wave begins when all of it are back. Greedy, the longest chain first (list scheduling: R. Graham, “Bounds on multiprocessing timing anomalies”, 1969), with these rules:
 * no wave takes away anything that none of its devices takes away by itself, as a rehearsal tells; no application is stopped at all; no two that hang on each other directly share a wave (a ring’s neighbours, a pair and its link);
 * what has three or more neighbours that pass frames on keeps two of them;
 * stages wait for those before, and as long as was said; no more than the crew and a site allow; what does not end within a window does not begin in it.
 * A set is looked at as a whole first, and halved where it would take something away.
 */
export function* wavesInSteps(
  tasks: readonly WaveTask[],
  windows: readonly WaveWindow[],
  rules: WaveRules,
  before: Before,
  rehearsals: Rehearsals,
): Steps<WavePlan> {
  const planner = new Planner(tasks, rules, before, rehearsals);
  planner.refuseLongerThan(Math.max(0, ...joinedWindows(windows).map(({ start, end }) => (end - start) / minuteMs)));
  for (const window of joinedWindows(windows)) {
    let at = window.start;
    for (;;) {
      const wave = planner.wave(at, window.end);
      yield;
      if (!wave) {
        const next = planner.nextStart(at, window.end);
        if (next === null) break;
        at = next;
        continue;
      }
      at = wave.end;
    }
  }
  return planner.plan();
}

/** In their order; those that overlap or touch are one, so that no two waves are under way at the same time. */
export function joinedWindows(windows: readonly WaveWindow[]): WaveWindow[] {
  const joined: WaveWindow[] = [];
  for (const { start, end } of [...windows].sort((x, y) => x.start - y.start)) {
    const last = joined.at(-1);
    if (last && start <= last.end) last.end = Math.max(last.end, end);
    else joined.push({ start, end });
  }
  return joined;
}

class Planner {
  readonly #waves: Wave[] = [];
  /** by task: when it is done, -1 while it has no place */
  readonly #done: Float64Array;
  readonly #never = new Map<number, string>();
  readonly #first: number[][];
  readonly #order: number[];
  readonly #together: TogetherLost;
  /** by task: what kept it out of earlier waves */
  readonly #kept = new Map<number, string[]>();
  /** by device: with which others something would be lost */
  readonly #conflicts = new Map<number, Set<number>>();
  /** by target and stage: when those before it are done */
  readonly #stages = new Map<string, number | null>();
  /** by task: those that it does not go with */
  readonly #apart = new Map<number, Set<number>>();
  readonly #taskOf: ReadonlyMap<number, number>;
  readonly #graph: PreparedGraph;
  readonly #ways: Ways;

  constructor(
    readonly tasks: readonly WaveTask[],
    readonly rules: WaveRules,
    before: Before,
    rehearsals: Rehearsals,
  ) {
    this.#graph = rehearsals.graph;
    this.#taskOf = new Map(tasks.map(({ device }, task) => [device, task]));
    this.#together = new TogetherLost(rehearsals, rules.mayStop ?? new Set());
    this.#done = new Float64Array(tasks.length).fill(-1);
    this.#first = tasks.map(() => []);
    for (const [first, then] of before) this.#first[then]?.push(first);
    this.#order = this.#inOrder(before);
    this.#ways = new Ways(rehearsals.graph);
  }

  /** Those whose chain of others behind them is longest go first, those that stand by last. */
  #inOrder(before: Before): number[] {
    const { tasks } = this;
    const behind = tasks.map((): number[] => []);
    for (const [first, then] of before) behind[first]?.push(then);
    const chain = new Float64Array(tasks.length).fill(-1);
    const lengthOf = (task: number, above: ReadonlySet<number>): number => {
      if ((chain[task] ?? -1) >= 0) return chain[task] ?? 0;
      // what goes round in a circle is no chain
      const next = (behind[task] ?? []).filter((one) => !above.has(one));
      const within = new Set([...above, task]);
      const longest = next.reduce((most, one) => Math.max(most, lengthOf(one, within)), 0);
      return (chain[task] = longest + (tasks[task]?.minutes ?? 0));
    };
    tasks.forEach((_, task) => lengthOf(task, new Set()));
    const numbers = tasks.map((_, task) => task);
    return numbers.sort((x, y) => {
      const [one, other] = [tasks[x], tasks[y]];
      return (
        Number(one?.isSpare) - Number(other?.isSpare) ||
        (one?.stage ?? 0) - (other?.stage ?? 0) ||
        (chain[y] ?? 0) - (chain[x] ?? 0) ||
        x - y
      );
    });
  }

  #deviceOf(task: number): number {
    return this.tasks[task]?.device ?? -1;
  }

  /** When the stages before it are done and have run long enough; null where that is not known yet. */
  #staged(task: number): number | null {
    const own = this.tasks[task];
    if (!own) return null;
    const latest = own.notBefore ?? -Infinity;
    if (own.stage === 0) return latest;
    const before = this.#doneBefore(own);
    return before === null ? null : Math.max(latest, before + own.waitMinutes * minuteMs);
  }

  /** When all of the stages before are done; null while any of them is not. Worked out once for each wave. */
  #doneBefore({ target, stage }: WaveTask): number | null {
    const key = `${stage} ${target}`;
    let known = this.#stages.get(key);
    if (known === undefined) {
      known = -Infinity;
      for (const [nth, other] of this.tasks.entries()) {
        if (known === null || other.target !== target || other.stage >= stage) continue;
        const done = this.#done[nth] ?? -1;
        known = done < 0 ? null : Math.max(known, done);
      }
      this.#stages.set(key, known);
    }
    return known;
  }

  #mayStart(task: number, at: number, until: number): boolean {
    if ((this.#done[task] ?? -1) >= 0 || this.#never.has(task)) return false;
    if (at + (this.tasks[task]?.minutes ?? 0) * minuteMs > until) return false;
    // who has no place at all is not waited for
    if (!(this.#first[task] ?? []).every((one) => this.#never.has(one) || this.#isDone(one, at))) return false;
    const staged = this.#staged(task);
    return staged !== null && staged <= at;
  }

  #isDone(task: number, at: number): boolean {
    const done = this.#done[task] ?? -1;
    return done >= 0 && done <= at;
  }

  /** The next wave from a moment on; null where none can begin then. */
  wave(at: number, until: number): Wave | null {
    const chosen: number[] = [];
    const refused = new Set<number>();
    const why = new Map<number, string[]>();
    for (;;) {
      const wanted = this.#choose(at, until, chosen, refused);
      if (wanted.length === 0) break;
      this.#addSafely(chosen, wanted, refused);
    }
    if (chosen.length === 0) return null;
    const minutes = Math.max(...chosen.map((task) => this.tasks[task]?.minutes ?? 0));
    const end = at + minutes * minuteMs;
    for (const task of chosen) {
      this.#done[task] = end;
      why.set(task, this.#whyOf(task));
    }
    const wave = {
      start: at,
      end,
      placed: chosen.map((task) => ({ task, why: why.get(task) ?? [], apart: [...(this.#apart.get(task) ?? [])] })),
    };
    this.#waves.push(wave);
    this.#stages.clear();
    return wave;
  }

  /** The next moment within a window at which anything may begin that may not yet. */
  nextStart(at: number, until: number): number | null {
    let next = Infinity;
    for (const task of this.#order) {
      if ((this.#done[task] ?? -1) >= 0 || this.#never.has(task)) continue;
      const staged = this.#staged(task);
      if (staged === null || staged <= at) continue;
      if (staged + (this.tasks[task]?.minutes ?? 0) * minuteMs <= until) next = Math.min(next, staged);
    }
    return next === Infinity ? null : next;
  }

  /** As many more as there is room for, in their order, none of which hangs directly on another. */
  #choose(at: number, until: number, chosen: readonly number[], refused: ReadonlySet<number>): number[] {
    const { crew, perSite } = this.rules;
    const sites = new Map<string, number>();
    const taken = new Set<number>();
    /** by device: how many of its ways are away */
    const fewer = new Map<number, number>();
    const take = (task: number) => {
      const site = this.tasks[task]?.site ?? '';
      sites.set(site, (sites.get(site) ?? 0) + 1);
      const device = this.#deviceOf(task);
      taken.add(device);
      for (const one of this.#ways.through(device)) fewer.set(one, (fewer.get(one) ?? 0) + 1);
    };
    chosen.forEach(take);
    const isOut = new Set(chosen);
    const wanted: number[] = [];
    for (const task of this.#order) {
      if (chosen.length + wanted.length >= crew) break;
      if (isOut.has(task) || refused.has(task) || !this.#mayStart(task, at, until)) continue;
      const site = this.tasks[task]?.site ?? '';
      if (site !== '' && (sites.get(site) ?? 0) >= perSite) continue;
      const device = this.#deviceOf(task);
      const near = this.#ways.nextTo(device).find((one) => taken.has(one));
      if (near !== undefined) {
        this.#keep(task, `not with ${this.#nameOf(near)}, which it hangs on directly`, [near]);
        continue;
      }
      const thin = this.#ways
        .through(device)
        .find((one) => !taken.has(one) && this.#ways.isThin(one, (fewer.get(one) ?? 0) + 1));
      if (thin !== undefined) {
        const others = this.#ways.of(thin).filter((one) => taken.has(one));
        this.#keep(
          task,
          `not with ${namesIn(others.map((one) => this.#nameOf(one)))}: ${this.#nameOf(thin)} would have one way only`,
          others,
        );
        continue;
      }
      const conflicts = this.#conflicts.get(device);
      if (conflicts && [...conflicts].some((one) => taken.has(one))) continue;
      wanted.push(task);
      take(task);
    }
    return wanted;
  }

  /** Adds those that together take nothing away; a set that does is halved until it is known which. */
  #addSafely(chosen: number[], wanted: readonly number[], refused: Set<number>): void {
    const open: (readonly number[])[] = [wanted];
    for (let group = open.pop(); group !== undefined; group = open.pop()) {
      const own = group.filter((task) => !this.#never.has(task));
      if (own.length === 0) continue;
      const devices = [...chosen, ...own].map((task) => this.#deviceOf(task));
      const found = this.#together.check(devices);
      if (found.kind === 'safe') {
        chosen.push(...own);
        continue;
      }
      if (found.kind === 'stops') {
        const culprits = own.filter((task) => found.by.has(this.#deviceOf(task)));
        for (const task of culprits) this.#never.set(task, found.by.get(this.#deviceOf(task)) ?? '');
        if (culprits.length > 0) {
          open.push(own);
          continue;
        }
      }
      const [only] = own;
      if (own.length === 1 && only !== undefined) {
        refused.add(only);
        this.#learn(only, chosen);
        continue;
      }
      const half = own.length >> 1;
      // the second half is looked at when the first has found its place
      open.push(own.slice(half), own.slice(0, half));
    }
  }

  /** With whom it does not go is known from then on. */
  #learn(task: number, chosen: readonly number[]): void {
    const device = this.#deviceOf(task);
    const devices = chosen.map((one) => this.#deviceOf(one));
    const found = this.#together.conflict(devices, device);
    if (!found) return this.#keep(task, 'not with the others of a wave: together they would take something away');
    this.#keep(task, `not ${found.words}`, [found.other]);
    for (const [one, other] of [
      [device, found.other],
      [found.other, device],
    ] as const) {
      const known = this.#conflicts.get(one) ?? new Set();
      this.#conflicts.set(one, known.add(other));
    }
  }

  /** @param devices those it was kept apart from */
  #keep(task: number, words: string, devices: readonly number[] = []): void {
    const apart = this.#apart.get(task) ?? new Set<number>();
    this.#apart.set(task, apart);
    for (const device of devices) {
      const other = this.#taskOf.get(device);
      if (other !== undefined && apart.size < mostReasons) apart.add(other);
    }
    const known = this.#kept.get(task) ?? [];
    this.#kept.set(task, known);
    if (known.length < mostReasons && !known.includes(words)) known.push(words);
  }

  #nameOf(device: number): string {
    return this.#graph.things[device]?.name ?? '';
  }

  #whyOf(task: number): string[] {
    const own = this.tasks[task];
    const first = (this.#first[task] ?? []).map((one) => this.tasks[one]?.name ?? '');
    const alone = this.#together.aloneWords(this.#deviceOf(task));
    return [
      own && own.stage === 0 && this.tasks.some((one) => one.target === own.target && one.stage > 0)
        ? 'tries it out first'
        : '',
      own?.isSpare ? 'stands by for others: at the end' : '',
      first.length > 0 ? `after ${namesIn(first)}` : '',
      ...(this.#kept.get(task) ?? []),
      alone,
    ].filter(Boolean);
  }

  /** What fits in no window waits for nobody, and nobody waits for it. */
  refuseLongerThan(longest: number): void {
    for (const [task, { minutes }] of this.tasks.entries())
      if (minutes > longest)
        this.#never.set(
          task,
          longest === 0
            ? 'there is no window'
            : `it needs ${minutes} minutes, the longest window has ${Math.floor(longest)}`,
        );
  }

  plan(): WavePlan {
    const unplaced = this.tasks.flatMap((_, task) =>
      (this.#done[task] ?? -1) >= 0 ? [] : [{ task, why: this.#whyNever(task) }],
    );
    return { waves: this.#waves, unplaced, rehearsed: this.#together.rehearsed };
  }

  #whyNever(task: number): string {
    const stopped = this.#never.get(task);
    if (stopped) return stopped;
    const own = this.tasks[task];
    if (!own) return '';
    const first = (this.#first[task] ?? []).filter((one) => (this.#done[one] ?? -1) < 0 && !this.#never.has(one));
    if (first.length > 0)
      return `it goes after ${namesIn(first.map((one) => this.tasks[one]?.name ?? ''))}, which has no place`;
    if (this.#staged(task) === null) {
      const open = this.tasks.filter(
        (one, nth) => one.target === own.target && one.stage < own.stage && (this.#done[nth] ?? -1) < 0,
      );
      return `the stage before it is not done: ${namesIn(open.map(({ name }) => name))} has no place`;
    }
    const kept = this.#kept.get(task) ?? [];
    return ['the windows are full', ...kept].join('; ');
  }
}

/**
 * What stands against a set of devices being away at the same time, in words; none where nothing does.
 * @param devices by their numbers in the graph, the one that came last at the end
 */
export function againstTogether(
  devices: readonly number[],
  rehearsals: Rehearsals,
  mayStop: ReadonlySet<number> = new Set(),
): string[] {
  const { graph } = rehearsals;
  const ways = new Ways(graph);
  const nameOf = (device: number) => graph.things[device]?.name ?? '';
  const away = new Set(devices);
  const found: string[] = [];
  for (const [at, device] of devices.entries()) {
    const near = ways.nextTo(device).find((one) => devices.indexOf(one) > at);
    if (near !== undefined) found.push(`${nameOf(near)} hangs directly on ${nameOf(device)}`);
  }
  const thin = new Set(devices.flatMap((device) => ways.through(device)));
  for (const device of thin) {
    const gone = ways.of(device).filter((one) => away.has(one));
    if (!away.has(device) && ways.isThin(device, gone.length))
      found.push(`${nameOf(device)} would have one way only without ${namesIn(gone.map(nameOf))}`);
  }
  return [...new TogetherLost(rehearsals, mayStop).words(devices), ...found];
}

const mostReasons = 3;
const mostNamed = 3;

function namesIn(names: readonly string[]): string {
  const shown = names.slice(0, mostNamed);
  return names.length > mostNamed ? `${shown.join(', ')} and ${names.length - mostNamed} more` : shown.join(' and ');
}

/**
 * No plan takes less time than this: all of them over the crew, those of a site over what a site allows, the longest chain; in minutes of work, whatever the windows.
 */
export function leastMinutes(tasks: readonly WaveTask[], rules: WaveRules, before: Before): number {
  const total = tasks.reduce((sum, { minutes }) => sum + minutes, 0);
  const bySite = new Map<string, number>();
  for (const { site, minutes } of tasks) if (site !== '') bySite.set(site, (bySite.get(site) ?? 0) + minutes);
  const behind = tasks.map((): number[] => []);
  for (const [first, then] of before) behind[first]?.push(then);
  const chain = new Map<number, number>();
  const lengthOf = (task: number): number => {
    let known = chain.get(task);
    if (known === undefined) {
      chain.set(task, 0);
      known =
        (behind[task] ?? []).reduce((most, one) => Math.max(most, lengthOf(one)), 0) + (tasks[task]?.minutes ?? 0);
      chain.set(task, known);
    }
    return known;
  };
  const longest = tasks.reduce((most, _, task) => Math.max(most, lengthOf(task)), 0);
  return Math.max(total / rules.crew, longest, ...[...bySite.values()].map((minutes) => minutes / rules.perSite));
}
