import { daysKept } from '../../core/flow/talkStock';
import type { Store } from '../../store/base/database';
import { fittingRows } from '../query/query';
import { tablesOf } from '../query/tables/estateTables';

const dayMs = 86_400_000;

/** How many conversations were heard on each of the last days, of those that a filter holds, the oldest day first. @throws FilterError */
export function talkDays(store: Store, survey: number, where: string): { day: string; conversations: number }[] {
  const table = tablesOf(store).talk(survey);
  if (table.size === 0) return [];
  const { rows } = fittingRows(store, 'conversations', { survey, against: null, where });
  const newest = table.lastDay();
  return Array.from(table.countDays(rows, newest), (conversations, nth) => ({
    day: new Date((newest - daysKept + 1 + nth) * dayMs).toISOString().slice(0, 10),
    conversations,
  }));
}
