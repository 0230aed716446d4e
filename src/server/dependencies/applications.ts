import { assemble, isCommon, type Assembled, type Instance } from '../../core/applications/assemble';
import type { Application } from '../../core/applications/application';
import type { Circles } from '../../core/dependency/circles';
import { atOnce } from '../../core/steps';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
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
export const circlesTold = (store: Store, survey: number): Circles & { survey: number } => ({
  survey,
  ...atOnce(tablesOf(store).circles(survey)),
});

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
