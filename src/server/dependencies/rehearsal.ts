import { criticalities } from '../../core/applications/application';
import type { ThingKind } from '../../core/dependency/graph';
import { linkWords } from '../../core/dependency/linkWords';
import { fates, type Outcome } from '../../core/dependency/rehearse';
import { stoppersOf } from '../../core/dependency/stoppers';
import { everyRow, valueAt } from '../../core/tables/column';
import { compareNaturally } from '../../core/values/naturalOrder';
import { readApplications } from '../../store/applications';
import type { Store } from '../../store/base/database';
import { dependenceAt, type Dependence } from './dependence';
import { tablesOf } from '../query/tables/estateTables';
import { namedThings } from './namedThings';

export interface NamedThing {
  kind: ThingKind;
  id: string;
  name: string;
}

export interface LostThing extends NamedThing {
  why: string;
}

export interface DegradedThing extends LostThing {
  /** what gave it another way, or stood in for it, and is gone */
  spare: string;
}

/** What an outage would cost. */
export interface Rehearsal {
  survey: number;
  down: string[];
  chosen: NamedThing[];
  /** links that go down, by the ports they were named by */
  cut: { port: string; name: string }[];
  lost: LostThing[];
  degraded: DegradedThing[];
  /** endpoints that are lost, counted by where they are and in which VLAN */
  endpoints: { site: string; vlan: string; lost: number }[];
  /** whom to tell: those of each application that is lost or loses a spare */
  people: { application: string; id: string; criticality: string; owner: string; contacts: string[]; lost: boolean }[];
  /** how many of each nothing happens to */
  untouched: { devices: number; endpoints: number; machines: number; services: number; applications: number };
}

export type Asked<Answer> = Answer | { mistakes: string[] };

const kindOrder: ThingKind[] = ['application', 'service', 'device', 'machine', 'endpoint'];
export const inOrder = (one: NamedThing, other: NamedThing): number =>
  kindOrder.indexOf(one.kind) - kindOrder.indexOf(other.kind) ||
  compareNaturally(one.name, other.name) ||
  compareNaturally(one.id, other.id);

/** What would be lost, and what would lose its spare, if these went down; mistakes where a name means nothing. */
export function rehearsalOf(store: Store, survey: number, down: readonly string[]): Asked<Rehearsal> {
  const dependence = dependenceAt(store, survey);
  const chosen = chosenOf(store, survey, dependence, down);
  if ('mistakes' in chosen) return chosen;
  const { things, cables } = chosen;
  const outcome = dependence.rehearsals.rehearse({ things, cables });
  const told = toldOutcome(dependence, things, outcome);
  const cut = cables.flatMap((cable) => {
    const link = dependence.links[dependence.linkOf[cable] ?? -1];
    return link
      ? [link.a, link.b].map(({ deviceId, port }) => ({ port: `${deviceId}:${port}`, name: linkWords(link) }))
      : [];
  });
  return {
    survey,
    ...told,
    cut,
    down: [...told.down, ...new Set(cut.map(({ name }) => name))],
    endpoints: lostEndpoints(store, survey, dependence, outcome),
    people: peopleToTell(store, dependence, outcome),
  };
}

/** Applications that are touched, the most critical first, those that are lost before those that only lose a spare. */
function peopleToTell(store: Store, { numberOf }: Dependence, { fate }: Outcome): Rehearsal['people'] {
  return readApplications(store.db)
    .flatMap(({ id, name, criticality, owner, contacts }) => {
      const word = fates[fate[numberOf({ kind: 'application', id: String(id) })] ?? 0];
      if (word !== 'lost' && word !== 'degraded') return [];
      return [{ application: name, id: String(id), criticality, owner, contacts, lost: word === 'lost' }];
    })
    .sort(
      (x, y) =>
        Number(y.lost) - Number(x.lost) ||
        criticalities.indexOf(x.criticality) - criticalities.indexOf(y.criticality) ||
        compareNaturally(x.application, y.application),
    );
}

/** What stops something: single things, and pairs of which neither alone does. */
export interface ToldStoppers {
  survey: number;
  of: NamedThing;
  ones: NamedThing[];
  pairs: [NamedThing, NamedThing][];
  areMore: boolean;
}

/** The smallest sets whose loss stops a thing; mistakes where its name means nothing. */
export function stoppersNamed(store: Store, survey: number, of: string): Asked<ToldStoppers> {
  const dependence = dependenceAt(store, survey);
  const chosen = chosenOf(store, survey, dependence, [of]);
  if ('mistakes' in chosen) return chosen;
  const [thing] = chosen.things;
  if (thing === undefined || chosen.things.length > 1) return { mistakes: [`“${of}” is more than one thing`] };
  const { ones, pairs, areMore } = stoppersOf(dependence.rehearsals, thing, dependence.providers);
  const named = (at: number): NamedThing => dependence.prepared.things[at] ?? { kind: 'device', id: '', name: '' };
  return {
    survey,
    of: named(thing),
    ones: ones.map(named).sort(inOrder),
    pairs: pairs.map(([one, other]): [NamedThing, NamedThing] => [named(one), named(other)]),
    areMore,
  };
}

/** How many endpoints are lost at which site and in which VLAN; those that are devices themselves count as devices. */
function lostEndpoints(
  store: Store,
  survey: number,
  { numberOf }: Dependence,
  { fate }: Outcome,
): Rehearsal['endpoints'] {
  const table = tablesOf(store).table('endpoints', survey, null);
  const [macs, sites, vlans, own] = (['mac', 'site', 'vlan', 'ownDeviceId'] as const).map((field) =>
    table.column(field),
  );
  if (!macs || !sites || !vlans || !own) return [];
  const names = new Map(
    tablesOf(store)
      .table('vlans', survey, null)
      .rows(everyRow(tablesOf(store).table('vlans', survey, null).size))
      .map(({ vlan, name }) => [Number(vlan), String(name)]),
  );
  const counts = new Map<string, { site: string; vlan: string; lost: number }>();
  for (let row = 0; row < table.size; row++) {
    if (Number(valueAt(own, row))) continue;
    const at = numberOf({ kind: 'endpoint', id: String(valueAt(macs, row)) });
    if (at < 0 || fates[fate[at] ?? 0] !== 'lost') continue;
    const number = valueAt(vlans, row);
    const site = String(valueAt(sites, row) ?? '');
    const vlan = typeof number === 'number' ? names.get(number) || `VLAN ${number}` : '';
    const key = `${site}\t${vlan}`;
    const known = counts.get(key) ?? { site, vlan, lost: 0 };
    known.lost++;
    counts.set(key, known);
  }
  return [...counts.values()].sort(
    (x, y) => y.lost - x.lost || compareNaturally(x.site, y.site) || compareNaturally(x.vlan, y.vlan),
  );
}

/** What several names mean together. */
export function chosenOf(
  store: Store,
  survey: number,
  dependence: Dependence,
  written: readonly string[],
): { things: number[]; cables: number[] } | { mistakes: string[] } {
  const named = namedThings(store, survey, dependence, written);
  const mistakes = named.flatMap((one) => ('mistake' in one ? [one.mistake] : []));
  if (mistakes.length > 0) return { mistakes };
  return {
    things: [...new Set(named.flatMap((one) => ('things' in one ? one.things : [])))],
    cables: [...new Set(named.flatMap((one) => ('cables' in one ? (one.cables ?? []) : [])))],
  };
}

export function toldOutcome(
  dependence: Dependence,
  things: readonly number[],
  outcome: Outcome,
): Omit<Rehearsal, 'survey' | 'endpoints' | 'people' | 'cut'> {
  const { prepared } = dependence;
  const words = dependence.words(outcome);
  const nameOf = (at: number): NamedThing => prepared.things[at] ?? { kind: 'device', id: '', name: '' };
  const lost: LostThing[] = [];
  const degraded: DegradedThing[] = [];
  const untouched = { device: 0, endpoint: 0, machine: 0, service: 0, application: 0 };
  prepared.things.forEach((thing, at) => {
    const fate = fates[outcome.fate[at] ?? 0];
    if (fate === 'lost') lost.push({ ...thing, why: words.why(at) });
    else if (fate === 'degraded') degraded.push({ ...thing, spare: words.spare(at), why: words.why(at) });
    else if (fate === 'untouched') untouched[thing.kind]++;
  });
  const chosen = things.map(nameOf);
  return {
    down: chosen.map(({ name }) => name),
    chosen,
    lost: lost.sort(inOrder),
    degraded: degraded.sort(inOrder),
    untouched: {
      devices: untouched.device,
      endpoints: untouched.endpoint,
      machines: untouched.machine,
      services: untouched.service,
      applications: untouched.application,
    },
  };
}
