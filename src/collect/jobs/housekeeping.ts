import type { Store } from '../../store/base/database';
import { wipeDeleted } from '../../store/credentials';
import { forgetSessions } from '../../store/sessions';

/** What is done by the clock, whoever is there: nothing that is over stays because nobody came by. */
export function keepHouse(store: Store, now: Date): void {
  wipeDeleted(store, now);
  forgetSessions(store.db, now);
}
