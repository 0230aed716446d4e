import { assemble, isCommon, type Assembled, type Instance } from '../../core/applications/assemble';
import type { Application } from '../../core/applications/application';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { editStamp } from '../../store/edits/log';
import { circlesAt } from '../query/rows/circleRows';
import { tablesOf } from '../query/tables/estateTables';
import { slowTalkStamp } from '../query/talk/slowStamp';
import { servingNow } from './servingNow';

export interface ToldRound extends Assembled {
  survey: number;
}

/** What an application would be made of by its rules, saved or not, and what its next round may bring. */
export function roundOf(store: Store, survey: number, rules: Application['rules']): ToldRound {
  const serving = servingNow(store, survey);
  return { survey, ...assemble({ rules }, serving.instances, serving.talks) };
}

/** Circles of hosts as of a survey, with their talk, and what everybody asks. */
export function circlesTold(store: Store, survey: number) {
  return tablesOf(store).told(
    'circles',
    survey,
    () => ({
      survey,
      ...circlesAt(store.db, survey, tablesOf(store).talk(survey), tablesOf(store).table('services', survey, null)),
    }),
    `${slowTalkStamp(store.db)} ${editStamp(store.db, 'serviceRules')}`,
  );
}

const mostSeeds = 40;

/** Services and hosts that a word of an owner may mean: by process, by what it is, by host. */
export function seedsFor(store: Store, survey: number, text: string): Instance[] {
  const wanted = text.trim().toLowerCase();
  if (wanted === '') return [];
  return servingNow(store, survey)
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
