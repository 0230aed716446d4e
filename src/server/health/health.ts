import { readHeartbeats, stillLoop } from '../../store/heartbeats';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import { tableAnswers } from '../query/thread/tableAnswers';

/** How long something may be silent before people are told. */
const silentMs = 30_000;

/** Whether everything that should go on does, and what does not. */
export interface Health {
  state: 'up' | 'down';
  /** what does not, in words */
  reasons: string[];
}

const startedAt = Date.now() - process.uptime() * 1000;

/** Why surveys would not begin; null where they would. */
export function engineProblem({ folder }: Pick<Store, 'folder'>, now = Date.now()): string | null {
  const still = stillLoop(readHeartbeats(folder), { since: startedAt, now, afterMs: silentMs });
  return still === null ? null : `The engine does not go on: ${still}`;
}

/** Whether the database can be read. */
export function storeProblem(store: Store): string | null {
  try {
    latestSealed(store.db);
    return null;
  } catch (error) {
    return `The database cannot be read: ${(error as Error).message}`;
  }
}

export function healthOf(store: Store, now = Date.now()): Health {
  const silent = tableAnswers(store).silentMs(now);
  const tables = silent > silentMs ? `What reads the tables said nothing for ${Math.round(silent / 1000)} s` : null;
  const reasons = [storeProblem(store), engineProblem(store, now), tables].filter((one) => one !== null);
  return { state: reasons.length === 0 ? 'up' : 'down', reasons };
}
