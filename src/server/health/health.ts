import { statfsSync } from 'node:fs';
import { readHeartbeats, stillLoop } from '../../store/heartbeats';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import { readFlowState } from '../../store/flowState';
import { tableAnswers } from '../query/thread/tableAnswers';

/** How long something may be silent before people are told. */
const silentMs = 30_000;

/** What does not go on, and of what. */
export interface NotWell {
  path: 'database' | 'disk' | 'engine' | 'tables' | 'flows';
  message: string;
}

const startedAt = Date.now() - process.uptime() * 1000;

/** Why surveys would not begin; null where they would. */
export function engineProblem({ folder }: Pick<Store, 'folder'>, now = Date.now()): string | null {
  const still = stillLoop(readHeartbeats(folder), { since: startedAt, now, afterMs: silentMs });
  return still === null ? null : `The engine does not go on: ${still}`;
}

/** Why exporters of flows would not be heard; null where they are, or where nobody was asked to. */
function flowsProblem({ folder }: Pick<Store, 'folder'>, now: number): string | null {
  const state = readFlowState(folder);
  return state === null || now - state.at <= silentMs
    ? null
    : `Exporters of flows are not heard: nothing was told of it for ${Math.round((now - state.at) / 1000)} s`;
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

const leastRoom = 4 * 1024 * 1024;

/** Whether there is room to write. */
function roomProblem({ folder }: Store): string | null {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize >= leastRoom ? null : 'There is no room left where the data lie: nothing more can be written';
}

/** Everything that should go on and does not; nothing where all is well. */
export function notWellOf(store: Store, now = Date.now()): NotWell[] {
  const silent = tableAnswers(store).silentMs(now);
  const tables = silent > silentMs ? `What reads the tables said nothing for ${Math.round(silent / 1000)} s` : null;
  const told = {
    database: storeProblem(store),
    disk: roomProblem(store),
    engine: engineProblem(store, now),
    tables,
    flows: flowsProblem(store, now),
  };
  return Object.entries(told).flatMap(([path, message]) =>
    message === null ? [] : [{ path: path as NotWell['path'], message }],
  );
}
