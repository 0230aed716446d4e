import { assemble, isCommon, type Assembled, type Instance } from '../../core/applications/assemble';
import type { Application } from '../../core/applications/application';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { editStamp } from '../../store/edits/log';
import { captureStamp } from '../../store/talk';
import { toldCircles } from '../query/rows/circleRows';
import { tablesOf } from '../query/tables/estateTables';
import { servingAt } from './serving';

export interface ToldRound extends Assembled {
  survey: number;
}

/** What an application would be made of by its rules, saved or not, and what its next round may bring. */
export function roundOf(store: Store, survey: number, rules: Application['rules']): ToldRound {
  const table = (thing: 'services' | 'conversations') => tablesOf(store).table(thing, survey, null);
  const serving = servingAt(store.db, survey, table('services'), table('conversations'));
  return { survey, ...assemble({ rules }, serving.instances, serving.talks) };
}

/** Circles of hosts as of a survey, with their talk, and what everybody asks. */
export function circlesTold(store: Store, survey: number) {
  const table = (thing: 'services' | 'conversations') => tablesOf(store).table(thing, survey, null);
  return tablesOf(store).told(
    `circles ${captureStamp(store.db)} ${editStamp(store.db, 'serviceRules')}`,
    survey,
    () => ({
      survey,
      ...toldCircles(store.db, survey, table('conversations'), table('services')),
    }),
  );
}

const mostSeeds = 40;

/** Services and hosts that a word of an owner may mean: by process, by what it is, by host. */
export function seedsFor(store: Store, survey: number, text: string): Instance[] {
  const wanted = text.trim().toLowerCase();
  if (wanted === '') return [];
  const table = (thing: 'services' | 'conversations') => tablesOf(store).table(thing, survey, null);
  return servingAt(store.db, survey, table('services'), table('conversations'))
    .instances.filter(({ service, called, device, kind }) =>
      [service, called, device, kind, `${service} on ${device}`].some((one) => one.toLowerCase().includes(wanted)),
    )
    .sort(
      (x, y) =>
        Number(isCommon(x.kind)) - Number(isCommon(y.kind)) ||
        compareNaturally(x.service, y.service) ||
        compareNaturally(x.device, y.device),
    )
    .slice(0, mostSeeds);
}
