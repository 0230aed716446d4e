import type { ThingKind } from '../../core/dependency/graph';
import { fates, type Outcome } from '../../core/dependency/rehearse';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { dependenceAt, type Dependence } from './dependence';
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
  lost: LostThing[];
  degraded: DegradedThing[];
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
  const outcome = dependence.rehearsals.rehearse({ things: chosen.things });
  return { survey, ...toldOutcome(dependence, chosen.things, outcome) };
}

/** What several names mean together. */
export function chosenOf(
  store: Store,
  survey: number,
  dependence: Dependence,
  written: readonly string[],
): { things: number[] } | { mistakes: string[] } {
  const named = namedThings(store, survey, dependence, written);
  const mistakes = named.flatMap((one) => ('mistake' in one ? [one.mistake] : []));
  if (mistakes.length > 0) return { mistakes };
  return { things: [...new Set(named.flatMap((one) => ('things' in one ? one.things : [])))] };
}

export function toldOutcome(
  dependence: Dependence,
  things: readonly number[],
  outcome: Outcome,
): Omit<Rehearsal, 'survey'> {
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
