import type { Store } from '../../../store/base/database';
import { readyAges } from '../../dependencies/matrix';
import { Calendar } from '../calendar';
import { tablesOf } from '../tables/estateTables';

/** Makes the newest talk ready with what came since, a step at a time: its table, how it was heard lately, and what differs from the moment before. */
export function* readyTalk(store: Store, survey: number): Generator<void> {
  yield* tablesOf(store).prepareTalk(survey);
  readyAges(store, survey);
  yield;
  const before = new Calendar(store.db).comparable(survey);
  if (before > 0) void tablesOf(store).table('conversations', survey, before).column('change').codes;
}
