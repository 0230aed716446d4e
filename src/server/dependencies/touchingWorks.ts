import { fates } from '../../core/dependency/rehearse';
import { workState, type WorkKind, type WorkState } from '../../core/works/work';
import type { Store } from '../../store/base/database';
import { openWorks, type KeptWork } from '../../store/works';
import { dependenceAt, type Dependence } from './dependence';
import { namedThings } from './namedThings';

/** A planned work or an incident, and what it does to one thing. */
export interface TouchingWork {
  id: number;
  kind: WorkKind;
  title: string;
  who: string;
  from: string;
  until: string | null;
  note: string;
  state: WorkState;
  /** `down`: it is on the thing itself */
  fate: 'down' | 'lost' | 'degraded';
  why: string;
}

const mostWorks = 100;

/** Open works that are on a thing, or would take it down or its spare, as of a survey. @param things by their numbers; all of them where none is given */
export function worksTouching(
  store: Store,
  survey: number,
  name: string,
  at = new Date().toISOString(),
): { rows: TouchingWork[] } {
  const works = openWorks(store.db, at).slice(0, mostWorks);
  if (works.length === 0) return { rows: [] };
  const dependence = dependenceAt(store, survey);
  const [meant] = namedThings(store, survey, dependence, [name]);
  const own = meant && 'things' in meant ? new Set(meant.things) : new Set<number>();
  const now = Date.parse(at);
  return {
    rows: works.flatMap((work): TouchingWork[] => {
      const outcome = dependence.rehearsals.rehearse(meantBy(store, survey, dependence, work));
      const words = dependence.words(outcome);
      for (const thing of own) {
        const fate = fates[outcome.fate[thing] ?? 0] ?? 'untouched';
        if (fate === 'untouched') continue;
        const { id, kind, title, who, from, until, note } = work;
        return [{ id, kind, title, who, from, until, note, state: workState(work, now), fate, why: words.why(thing) }];
      }
      return [];
    }),
  };
}

/** Names of which nothing is known at a survey. */
export function unknownNames(store: Store, survey: number, names: readonly string[]): string[] {
  if (survey === 0) return [...names];
  return namedThings(store, survey, dependenceAt(store, survey), names).flatMap((one) =>
    'mistake' in one ? [one.written] : [],
  );
}

/** What a work is on, as far as it is known at a survey. */
export const thingsOf = (store: Store, survey: number, dependence: Dependence, work: KeptWork): number[] =>
  meantBy(store, survey, dependence, work).things;

function meantBy(store: Store, survey: number, dependence: Dependence, { things }: KeptWork) {
  const named = namedThings(store, survey, dependence, things);
  return {
    things: named.flatMap((one) => ('things' in one ? one.things : [])),
    cables: named.flatMap((one) => ('cables' in one ? (one.cables ?? []) : [])),
  };
}
