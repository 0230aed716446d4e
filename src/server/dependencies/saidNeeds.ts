import { isReviewDue, thingOfToken, type SaidNeed } from '../../core/dependency/saidNeed';
import type { Store } from '../../store/base/database';
import { readSaidNeeds, type KeptNeed } from '../../store/saidNeeds';
import { dependenceAt } from './dependence';
import { namedThings } from './namedThings';

/** What somebody says, with the names of what is meant. */
export interface ToldNeed extends KeptNeed {
  names: { of: string; from: string[] };
  isDue: boolean;
}

/** What people say rests on what, what is to be asked again first. */
export function saidNeedsTold(store: Store, survey: number, now = new Date().toISOString()): ToldNeed[] {
  const all = readSaidNeeds(store.db);
  if (all.length === 0) return [];
  const { prepared, numberOf } = dependenceAt(store, survey);
  const nameOf = (token: string): string => {
    const thing = thingOfToken(token);
    return (thing && prepared.things[numberOf(thing)]?.name) ?? token;
  };
  return all
    .map((need) => ({
      ...need,
      names: { of: nameOf(need.of), from: need.from.map(nameOf) },
      isDue: isReviewDue(need, now.slice(0, 10)),
    }))
    .sort((x, y) => Number(y.isDue) - Number(x.isDue) || y.id - x.id);
}

/** Things by their numbers, as `device:12`, of what somebody wrote by name; mistakes by field where a name means nothing, or several. */
export function needMeant(
  store: Store,
  survey: number,
  { of, from }: Pick<SaidNeed, 'of' | 'from'>,
): { of: string; from: string[] } | { mistakes: { path: string; message: string }[] } {
  const dependence = dependenceAt(store, survey);
  const { things } = dependence.prepared;
  const mistakes: { path: string; message: string }[] = [];
  const tokensOf = (path: string, written: readonly string[]): string[] =>
    namedThings(store, survey, dependence, written).flatMap((named) => {
      if ('mistake' in named) {
        mistakes.push({ path, message: named.mistake });
        return [];
      }
      return named.things.flatMap((at) => (things[at] ? [`${things[at].kind}:${things[at].id}`] : []));
    });
  const [own, ...more] = tokensOf('of', [of]);
  const found = [...new Set(tokensOf('from', from))].filter((token) => token !== own);
  if (more.length > 0) mistakes.push({ path: 'of', message: `“${of}” is more than one thing` });
  if (found.length === 0 && mistakes.length === 0)
    mistakes.push({ path: 'from', message: 'It cannot rest on itself alone' });
  return mistakes.length > 0 || own === undefined ? { mistakes } : { of: own, from: found };
}
