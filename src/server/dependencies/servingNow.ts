import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import { servingAt, type Serving } from './serving';

/** What serves and asks on an estate at a moment. */
export const servingNow = (store: Store, survey: number): Serving =>
  servingAt(
    store.db,
    survey,
    tablesOf(store).table('services', survey, null),
    tablesOf(store).talk(survey),
    tablesOf(store).table('endpoints', survey, null),
  );
