import type { Store } from '../../store/base/database';
import { tablesOf } from './tables/estateTables';
import type { FoundThing } from './finder';

/** Things of a survey by a scrap of what they are called, the closest first. */
export function findAnything(store: Store, survey: number, wanted: string, most: number): FoundThing[] {
  return survey === 0 ? [] : tablesOf(store).finder(survey).find(wanted, most);
}
