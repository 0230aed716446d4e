import { listed } from '../../core/dependency/causeWords';
import type { ThingKind } from '../../core/dependency/graph';
import { linkWords } from '../../core/dependency/linkWords';
import { suspectsFor, type Sign, type Suspect } from '../../core/dependency/suspects';
import { fieldWord } from '../../core/things/changeWords';
import { maintenanceState } from '../../core/groups/maintenance';
import { everyRow } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { workState } from '../../core/works/work';
import { readMaintenance } from '../../store/maintenance';
import { openWorks } from '../../store/works';
import { Calendar } from '../query/calendar';
import { findRows } from '../query/query';
import { tablesOf } from '../query/tables/estateTables';
import { dependenceAt, type Dependence } from './dependence';
import { chosenOf, type Asked } from './rehearsal';
import { thingsOf } from './touchingWorks';

/** A common cause that what is down may have, with why it is believed and what to look at next. */
export interface ToldSuspect {
  kind: ThingKind | 'link';
  id: string;
  name: string;
  /** 0 to 1 */
  score: number;
  explains: string[];
  missing: string[];
  why: string;
  next: string;
  signs: readonly Sign[];
}

export interface Suspicion {
  survey: number;
  down: string[];
  slow: string[];
  rows: ToldSuspect[];
}

/** Ranked common causes of what is down or slow; mistakes where a name means nothing. */
export function suspicionOf(
  store: Store,
  survey: number,
  down: readonly string[],
  slow: readonly string[] = [],
  at = new Date().toISOString(),
): Asked<Suspicion> {
  const dependence = dependenceAt(store, survey);
  const [seenDown, seenSlow] = [down, slow].map((names) => chosenOf(store, survey, dependence, names));
  const mistakes = [seenDown, seenSlow].flatMap((one) => (one && 'mistakes' in one ? one.mistakes : []));
  if (!seenDown || !seenSlow || 'mistakes' in seenDown || 'mistakes' in seenSlow) return { mistakes };
  const signsOf = signReader(store, survey, dependence, at);
  const found = suspectsFor(
    dependence.rehearsals,
    { down: seenDown.things, slow: seenSlow.things },
    signsOf,
    dependence.providers,
  );
  const nameOf = (thing: number) => dependence.prepared.things[thing]?.name ?? '';
  const seen = new Set([...seenDown.things, ...seenSlow.things]).size;
  return {
    survey,
    down: seenDown.things.map(nameOf),
    slow: seenSlow.things.map(nameOf),
    rows: found.map((suspect) => told(dependence, suspect, seen, nameOf)),
  };
}

const mostNamed = 50;

function told(
  dependence: Dependence,
  { thing, cable, score, explains, missing, signs }: Suspect,
  seen: number,
  nameOf: (thing: number) => string,
): ToldSuspect {
  const { prepared, links, linkOf } = dependence;
  const link = cable === null ? undefined : links[linkOf[cable] ?? -1];
  const own = thing === null ? undefined : prepared.things[thing];
  const name = own?.name ?? (link ? linkWords(link) : '');
  const others = missing.filter((one) => one !== thing);
  const all = explains.length === seen;
  const share =
    seen === 1 ? 'what is down' : all ? (seen === 2 ? 'both' : `all ${seen}`) : `${explains.length} of ${seen}`;
  const itself = explains.length === 1 && explains[0] === thing;
  const why = [
    itself
      ? `${seen > 1 ? 'explains itself alone' : 'may have failed itself'}`
      : `${share} ${explains.length > 1 && seen > 1 ? 'rest' : 'rests'} on it`,
    others.length > 0
      ? `${listed(others.map(nameOf), 'and', 3)} would be down too`
      : !itself && thing !== null && !explains.includes(thing)
        ? 'nothing else would be down but itself'
        : '',
    ...signs.map(({ words }) => words),
  ]
    .filter(Boolean)
    .join('; ');
  return {
    kind: own?.kind ?? 'link',
    id: own?.id ?? (link ? `${link.a.deviceId} ${link.a.port} | ${link.b.deviceId} ${link.b.port}` : ''),
    name,
    score: Math.round(score * 1000) / 1000,
    explains: explains.slice(0, mostNamed).map(nameOf),
    missing: missing.slice(0, mostNamed).map(nameOf),
    why,
    next: nextStep(dependence, thing, signs, link ? linkWords(link) : ''),
    signs,
  };
}

/** What to look at, to know more. */
function nextStep(
  { prepared, links, rehearsals, numberOf }: Dependence,
  thing: number | null,
  signs: readonly Sign[],
  link: string,
): string {
  if (thing === null) return `Look at both ends of the link ${link}: are they up, and do they count errors?`;
  const own = prepared.things[thing];
  if (!own) return '';
  const sign = signs[0];
  if (sign?.kind === 'work') return `Ask whoever works at ${own.name}.`;
  if (sign?.kind === 'fault') return `Look at the faults that ${own.name} tells of.`;
  if (sign?.kind === 'change') return `Look at what changed on ${own.name} since the survey before.`;
  switch (own.kind) {
    case 'device': {
      const deviceId = Number(own.id);
      const depthOf = (id: number) => rehearsals.ways.depth[numberOf({ kind: 'device', id: String(id) })] ?? Infinity;
      const [far] = links
        .flatMap(({ a, b }) => (a.deviceId === deviceId ? [b] : b.deviceId === deviceId ? [a] : []))
        .sort((x, y) => depthOf(x.deviceId) - depthOf(y.deviceId));
      return far
        ? `Ask ${own.name}; where it does not answer, look at ${far.device} ${far.port}, where it is plugged in.`
        : `Ask ${own.name} alone: does it answer?`;
    }
    case 'machine':
      return `See on its host whether ${own.name} runs.`;
    case 'service':
      return `See whether ${own.name} still listens, and what it writes into its log.`;
    case 'endpoint':
      return `Look at the port that ${own.name} is plugged into.`;
    case 'application':
      return `Look at what ${own.name} is made of.`;
  }
}

const mostSigns = 3;
/** Changes of what is plugged in, or of what somebody learned, say nothing of the device itself. */
const telling = new Set(['device', 'module', 'port', 'service', 'software', 'link', 'virtual router']);

/** What is known against a thing: its device is silent, tells of faults, changed lately, or is worked at. */
function signReader(store: Store, survey: number, dependence: Dependence, at: string): (thing: number) => Sign[] {
  const { prepared } = dependence;
  const byDevice = new Map<string, Sign[]>();
  const put = (deviceId: unknown, sign: Sign) => {
    const key = String(deviceId);
    const known = byDevice.get(key) ?? [];
    if (known.length < mostSigns && !known.some(({ words }) => words === sign.words)) known.push(sign);
    byDevice.set(key, known);
  };
  for (const { where, reason, from, until } of readMaintenance(store.db)) {
    if (maintenanceState({ from, until }, at) !== 'now') continue;
    const { table, found } = findRows(store, 'devices', { survey, against: null, where, sort: [] });
    for (const { id } of table.rows(found)) put(id, { kind: 'work', words: `somebody works at it: ${reason}` });
  }
  for (const work of openWorks(store.db, at)) {
    if (workState(work, Date.parse(at)) !== 'now') continue;
    for (const thing of thingsOf(store, survey, dependence, work)) {
      const own = prepared.things[thing];
      if (own?.kind === 'device') put(own.id, { kind: 'work', words: `${work.kind} on it: ${work.title}` });
    }
  }
  const devices = tablesOf(store).table('devices', survey, null);
  for (const row of devices.rows(everyRow(devices.size)))
    if (row.state === 'silent') put(row.id, { kind: 'silent', words: 'it did not answer at the last survey' });
  const faults = tablesOf(store).table('faults', survey, null);
  for (const row of faults.rows(everyRow(faults.size)))
    if (row.subsystem !== 'security')
      put(row.deviceId, { kind: 'fault', words: `${String(row.part)}: ${String(row.message)}` });
  const changed = new Map<number, string[]>();
  const ofServices = new Map<string, Set<string>>();
  const ofSoftware = new Map<number, Set<string>>();
  if (new Calendar(store.db).comparable(survey) > 0) {
    const changes = tablesOf(store).table('changes', survey, null);
    for (const row of changes.rows(everyRow(changes.size))) {
      const deviceId = Number(row.deviceId);
      if (!deviceId || !telling.has(String(row.thing))) continue;
      changed.set(deviceId, [...(changed.get(deviceId) ?? []), changeWords(row)]);
      const name =
        dependence.prepared.things[dependence.numberOf({ kind: 'device', id: String(deviceId) })]?.name ?? '';
      const subject = String(row.subject).slice(name.length + 1);
      const service = row.thing === 'service' ? serviceIn(subject) : null;
      if (service !== null) {
        const key = `${deviceId} ${service}`;
        ofServices.set(key, (ofServices.get(key) ?? new Set()).add(wordOf(row)));
      } else if (row.thing === 'software')
        ofSoftware.set(deviceId, (ofSoftware.get(deviceId) ?? new Set()).add(subject));
    }
  }
  for (const [deviceId, words] of changed)
    put(deviceId, {
      kind: 'change',
      words: `changed since the survey before: ${listed([...new Set(words)], 'and', 3)}`,
    });
  return (thing) => {
    const own = prepared.things[thing];
    if (own?.kind === 'device') return byDevice.get(own.id) ?? [];
    if (own?.kind !== 'service') return [];
    const host = own.id.split(' ')[0] ?? '';
    const change = (words: Iterable<string> | undefined, what: string): Sign[] => {
      const all = [...(words ?? [])];
      return all.length > 0
        ? [{ kind: 'change', words: `${what} changed since the survey before: ${listed(all, 'and', 3)}` }]
        : [];
    };
    return [
      ...(byDevice.get(host)?.filter(({ kind }) => kind === 'work') ?? []),
      ...change(ofServices.get(own.id), 'it'),
      ...change(ofSoftware.get(Number(host)), 'what is installed with it'),
    ].slice(0, mostSigns);
  };
}

/** The service that a change of a listener is about: “tallydb on tcp 5500”, or “tcp 5500” where no process is told; null where it is none. */
function serviceIn(subject: string): string | null {
  const [, process, protocol, port] = /^(?:(.+) on )?(tcp|udp) (\d+)$/.exec(subject) ?? [];
  return protocol ? (process ?? `${protocol}/${port}`) : null;
}

const changeWords = (row: Record<string, unknown>): string =>
  [String(row.subject), wordOf(row)].filter(Boolean).join(' ');

/** What changed of it, as its heading says it. */
const wordOf = ({ thing, field, kind }: Record<string, unknown>): string =>
  field ? fieldWord(String(thing), String(field)) : String(kind);
