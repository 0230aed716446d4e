import { readinessBy } from '../query/rows/readinessRows';
import type { DeviceFacts, VirtualRouterFacts } from '../../core/estate/facts';
import type { Verdict } from '../../core/firmware/readiness';
import { stageNames, targetKey } from '../../core/firmware/target';
import { readWindows } from '../../core/firmware/waves/windows';
import {
  againstTogether,
  farEndsFirst,
  leastMinutes,
  wavesInSteps,
  type Before,
  type WaveTask,
} from '../../core/firmware/waves/plan';
import type { Steps } from '../../core/steps';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { readApplications } from '../../store/applications';
import { readTargets } from '../../store/targets';
import { dependenceAt } from '../dependencies/dependence';
import { fittingRows } from '../query/query';
import { tablesOf } from '../query/tables/estateTables';

/** What is asked of a plan of waves. */
export interface WavesAsked {
  /** a filter of devices; empty for all that have a target */
  where: string;
  /** a calendar, or a list in JSON */
  windows: string;
  /** the zone of times that name none */
  zone: string;
  crew: number;
  perSite: number;
  /** how long a device is away */
  minutes: number;
  /** applications that may be stopped, by their names */
  mayStop: readonly string[];
  /** windows that are over by then are not used, milliseconds since the epoch */
  from: number;
}

export interface PlacedDevice {
  deviceId: number;
  device: string;
  site: string;
  target: string;
  minutes: number;
  why: string[];
  /** devices that it does not go with, by their numbers */
  apart: number[];
  /** what is to be done before, where it is ready only after that */
  first: string[];
}

export interface ToldWave {
  start: string;
  end: string;
  /** names, in their order */
  devices: string[];
  placed: PlacedDevice[];
}

export interface ToldWaves {
  survey: number;
  waves: ToldWave[];
  unplaced: { device: string; deviceId: number; why: string }[];
  windows: { start: string; end: string }[];
  /** minutes of work, and how few they could be at best */
  minutes: number;
  leastMinutes: number;
  rehearsed: number;
}

const horizonMs = 366 * 86_400_000;
const minutesADay = 24 * 60;

/**
 * Devices put into waves: those that may go, in the order of their stages, controllers before what they look after, far ends before what leads to them.
 * @throws FilterError, WindowsError, UnknownApplication
 */
export function* wavesAt(store: Store, survey: number, asked: WavesAsked): Steps<ToldWaves> {
  const windows = readWindows(asked.windows, { from: asked.from, until: asked.from + horizonMs, zone: asked.zone });
  const { prepared, rehearsals, numberOf } = dependenceAt(store, survey);
  yield;
  const wanted = devicesWanted(store, survey, asked.where);
  const ready = readinessOf(store, survey);
  yield;
  const facts = new Map(
    factsAsOf<DeviceFacts>(store.db, 'device', survey).map(({ deviceId, content }) => [deviceId, content]),
  );
  const spares = standingBy(store, survey);
  const unplaced: ToldWaves['unplaced'] = [];
  const tasks: (WaveTask & { deviceId: number; first: string[]; release: string })[] = [];
  for (const deviceId of wanted ?? ready.keys()) {
    const own = facts.get(deviceId);
    if (!own) continue;
    const standing = ready.get(deviceId);
    const stays = standing && (whyNot(standing) ?? missing(standing, ready, wanted));
    if (stays) {
      // who asks for all that have a target does not mean those that are there
      if (wanted !== null || standing?.verdict !== 'already there')
        unplaced.push({ device: own.name, deviceId, why: stays });
      continue;
    }
    const device = numberOf({ kind: 'device', id: String(deviceId) });
    if (device < 0) continue;
    tasks.push({
      device,
      deviceId,
      name: own.name,
      site: standing?.site ?? own.site,
      minutes: asked.minutes,
      target: standing?.key ?? '',
      stage: standing?.stage ?? 0,
      waitMinutes: (standing?.waitDays ?? 0) * minutesADay,
      ...(standing?.waitsUntil && { notBefore: Date.parse(standing.waitsUntil) }),
      isSpare: spares.has(deviceId),
      first: standing?.first ?? [],
      release: standing?.target ?? '',
    });
  }
  const before = [...farEndsFirst(tasks, rehearsals), ...controllersFirst(tasks, facts)];
  const mayStop = new Set(
    asked.mayStop.map((name) => {
      const application = readApplications(store.db).find((one) => one.name.toLowerCase() === name.toLowerCase());
      if (!application) throw new UnknownApplication(name);
      return numberOf({ kind: 'application', id: String(application.id) });
    }),
  );
  const rules = { crew: asked.crew, perSite: asked.perSite, mayStop };
  const plan = yield* wavesInSteps(tasks, windows, rules, before, rehearsals);
  const iso = (moment: number) => new Date(moment).toISOString();
  const placed = new Set(plan.waves.flatMap((wave) => wave.placed.map(({ task }) => task)));
  const own = tasks.filter((_, task) => placed.has(task));
  return {
    survey,
    waves: plan.waves.map(({ start, end, placed: inWave }) => {
      const devices = inWave
        .flatMap(({ task, why, apart }): PlacedDevice[] => {
          const one = tasks[task];
          if (!one) return [];
          const { deviceId, name, site, minutes, first, release } = one;
          const others = apart.flatMap((other) => tasks[other]?.deviceId ?? []);
          return [{ deviceId, device: name, site, target: release, minutes, why, apart: others, first }];
        })
        .sort((x, y) => compareNaturally(x.device, y.device));
      return { start: iso(start), end: iso(end), devices: devices.map(({ device }) => device), placed: devices };
    }),
    unplaced: [
      ...unplaced,
      ...plan.unplaced.flatMap(({ task, why }) => {
        const one = tasks[task];
        return one ? [{ device: prepared.things[one.device]?.name ?? one.name, deviceId: one.deviceId, why }] : [];
      }),
    ].sort((x, y) => compareNaturally(x.device, y.device)),
    windows: windows.map(({ start, end }) => ({ start: iso(start), end: iso(end) })),
    minutes: plan.waves.reduce((sum, { start, end }) => sum + (end - start) / 60_000, 0),
    leastMinutes: Math.ceil(leastMinutes(own, rules, farEndsFirst(own, rehearsals))),
    rehearsed: plan.rehearsed,
  };
}

/** What stands against devices being away at the same time, in words; and how long each takes away what. */
export function waveChecked(
  store: Store,
  survey: number,
  devices: readonly number[],
): { survey: number; isSafe: boolean; words: string[] } {
  const { rehearsals, numberOf } = dependenceAt(store, survey);
  const numbers = devices.map((id) => numberOf({ kind: 'device', id: String(id) })).filter((one) => one >= 0);
  const words = againstTogether(numbers, rehearsals);
  return { survey, isSafe: words.length === 0, words };
}

/** An application that somebody named and nobody knows. */
export class UnknownApplication extends Error {
  override name = 'UnknownApplication';
  constructor(readonly application: string) {
    super(`There is no application “${application}”`);
  }
}

/** The devices that a filter means; null for all that have a target. */
function devicesWanted(store: Store, survey: number, where: string): number[] | null {
  if (where.trim() === '') return null;
  const { table, rows } = fittingRows(store, 'devices', { survey, against: null, where });
  return table.rows(rows).map(({ id }) => Number(id));
}

interface Standing {
  key: string;
  site: string;
  target: string;
  verdict: Verdict;
  reasons: { kind: string; words: string }[];
  first: string[];
  stage: number;
  waitDays: number;
  /** a day; empty where it waits for no day */
  waitsUntil: string;
}

/** By device: how its system stands to its target. */
function readinessOf(store: Store, survey: number): Map<number, Standing> {
  const targets = readTargets(store.db);
  const asked = {
    db: store.db,
    survey,
    devices: undefined,
    cover: () => tablesOf(store).coverAt(survey),
    components: () => tablesOf(store).components(survey),
  };
  const found = new Map<number, Standing>();
  for (const row of readinessBy(asked, targets)) {
    if (row.component !== 'system') continue;
    const reasons = row.reasons as Standing['reasons'];
    const stage = Math.max(0, (stageNames as readonly string[]).indexOf(String(row.stage)));
    const own = targets.find((one) => targetKey(one) === row.targetKey);
    const before = (own?.stages ?? []).filter(({ name }) => stageNames.indexOf(name) < stage);
    found.set(Number(row.deviceId), {
      key: String(row.targetKey),
      site: String(row.site),
      target: String(row.target),
      verdict: row.verdict as Verdict,
      reasons,
      first: reasons.filter(({ kind }) => todo.has(kind)).map(({ words }) => words),
      stage,
      waitDays: Math.max(0, ...before.map(({ days }) => days)),
      waitsUntil: String(row.waitsUntil),
    });
  }
  return found;
}

/** Reasons that are something to do before; that others go first is what waves are for. */
const todo: ReadonlySet<string> = new Set([
  'flash',
  'boot',
  'intermediate',
  'component',
  'mixed',
  'configuration',
  'maintenance',
]);

/** Why it stays; null where it may go, if need be after something is done. */
function whyNot({ verdict, reasons, target }: Standing): string | null {
  const words = reasons.filter(({ kind }) => kind !== 'fits' && kind !== 'advisory').map((one) => one.words);
  switch (verdict) {
    case 'already there':
      return `runs ${target} or later already`;
    case 'blocked':
    case 'unknown':
      return `${verdict}: ${words.join('; ')}`;
    default:
      return null;
  }
}

/** Whoever goes before it by the stages of its target, and is not asked for: it waits for them, whatever is planned. */
function missing(own: Standing, ready: ReadonlyMap<number, Standing>, wanted: readonly number[] | null): string | null {
  if (own.stage === 0 || wanted === null) return null;
  const isAsked = new Set(wanted);
  const isMissing = [...ready].some(
    ([deviceId, other]) =>
      other.key === own.key && other.stage < own.stage && other.verdict !== 'already there' && !isAsked.has(deviceId),
  );
  return isMissing ? (own.reasons.find(({ kind }) => kind === 'stage')?.words ?? null) : null;
}

/** Routers that carry no virtual router now, and stand by for one. */
function standingBy(store: Store, survey: number): Set<number> {
  const states = new Map<number, Set<string>>();
  for (const { deviceId, content } of factsAsOf<VirtualRouterFacts>(store.db, 'virtualRouter', survey)) {
    const own = states.get(deviceId) ?? new Set();
    states.set(deviceId, own.add(content.state));
  }
  return new Set([...states].flatMap(([deviceId, own]) => (own.has('backup') && !own.has('master') ? [deviceId] : [])));
}

/** Who looks after others goes before them. */
function controllersFirst(
  tasks: readonly { deviceId: number }[],
  facts: ReadonlyMap<number, Pick<DeviceFacts, 'address' | 'addresses' | 'interfaces'>>,
): Before {
  const byAddress = new Map<string, number>();
  tasks.forEach(({ deviceId }, task) => {
    const own = facts.get(deviceId);
    for (const address of own ? [own.address, ...own.addresses] : []) byAddress.set(address, task);
  });
  const looksAfter: ReadonlySet<string> = new Set(['wireless', 'fabric', 'hypervisors']);
  return tasks.flatMap(({ deviceId }, task) =>
    (facts.get(deviceId)?.interfaces ?? []).flatMap(({ kind, address }): [number, number][] => {
      const controller = looksAfter.has(kind) ? byAddress.get(address) : undefined;
      return controller === undefined || controller === task ? [] : [[controller, task]];
    }),
  );
}
