import { watchedChanges, watchedName } from '../../core/watch/watchedChanges';
import type { Store } from '../../store/base/database';
import type { Watch } from '../../store/watches';
import { Calendar } from '../query/calendar';
import { thingRow } from '../query/query';

/** One thing that is watched, and what became of it between two surveys. */
export interface WatchedNow extends Watch {
  /** as it is called now */
  words: string;
  /** in words, none where it stays as it was */
  changes: string[];
  /** it is there at the survey looked at */
  there: boolean;
}

/** How what is watched stands at a survey, against another one or the last by the same scope. */
export function watchedNow(store: Store, survey: number, against: number | null, watches: Watch[]): WatchedNow[] {
  if (survey === 0) return watches.map((one) => ({ ...one, words: one.name, changes: [], there: false }));
  const before = against ?? new Calendar(store.db).comparable(survey);
  return watches.map((one) => {
    const now = thingRow(store, one.thing, survey, null, one.rowId) ?? null;
    const then = before === 0 ? null : (thingRow(store, one.thing, before, null, one.rowId) ?? null);
    return {
      ...one,
      words: now ? watchedName(one.thing, now) : one.name,
      changes: before === 0 ? [] : watchedChanges(one.thing, then, now),
      there: now !== null,
    };
  });
}
