import { dropKnownDeliveries, lateDeliveries } from '../../store/collectors';
import { writeHeartbeats } from '../../store/heartbeats';
import { activeJob, beatMs, lastDoneJob, queueSurvey, releaseJobs } from '../../store/jobs';
import { startDue } from '../../store/schedule';
import { openStore, type Store } from '../../store/base/database';
import { isDiskFull, isLocked } from '../../store/base/storeFault';
import { ChangeSignal } from '../../store/changeSignal';
import { keepHouse } from './housekeeping';
import { lanes, type Lane } from './jobKind';
import { jobKinds } from './kinds';
import { Worker, workerName } from './worker';

const calendarMs = 1000;
const lateMs = 500;
const houseMs = 10_000;
const idleMs = 5000;
/** another writer is waited for: nobody asks the engine for an answer meanwhile */
const lockMs = 30_000;

/** Something the engine does for as long as it lives. */
interface Loop {
  name: string;
  /** until the engine stops; `turned` is called at every turn, so that one that hangs is told from one that rests */
  run: (turned: () => void) => Promise<void>;
}

/**
 * The engine process: performs jobs, lane beside lane, and begins what the calendar and late deliveries ask for. It dies whole: where one of its loops fails, it ends,
 * and whoever started it starts it again.
 * @param name how it calls itself; others see by it whose the jobs are
 */
export async function runEngine(folder: string, stopping: () => boolean, name = workerName()): Promise<void> {
  const store = openStore(folder, { waitMs: lockMs });
  const changes = new ChangeSignal(folder);
  const worker = new Worker(store, name, jobKinds);
  const loops: Loop[] = [
    ...(Object.keys(lanes) as Lane[]).map((lane) => ({
      name: `lane ${lane}`,
      run: (turned: () => void) => worker.lane(lane, stopping, turned, changes),
    })),
    { name: 'calendar', run: (turned) => every(calendarMs, stopping, turned, () => startDue(store.db, new Date())) },
    { name: 'late deliveries', run: (turned) => every(lateMs, stopping, turned, lateSurveys(store), changes) },
    { name: 'housekeeping', run: (turned) => every(houseMs, stopping, turned, () => keepHouse(store, new Date())) },
  ];
  const turns = new Map<string, number>();
  const beats = every(
    beatMs,
    stopping,
    () => undefined,
    () => {
      worker.beat();
      writeHeartbeats(store.folder, { worker: name, turned: Object.fromEntries(turns) });
    },
  );
  try {
    const running = loops.map(({ name: loop, run }) => run(() => turns.set(loop, Date.now())));
    await Promise.all([...running, beats]);
  } finally {
    changes.close();
    releaseJobs(store.db, name);
    store.close();
  }
}

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Does something again and again. Neither a full disk nor another writer stops anything: the next turn may have its way. */
async function every(
  milliseconds: number,
  stopping: () => boolean,
  turned: () => void,
  work: () => void,
  changes?: ChangeSignal,
): Promise<void> {
  while (!stopping()) {
    const mark = changes?.mark ?? 0;
    try {
      work();
    } catch (error) {
      if (!isDiskFull(error) && !isLocked(error)) throw error;
    }
    turned();
    await pause(milliseconds);
    await changes?.since(mark, idleMs);
  }
}

/** What collectors delivered after their survey was sealed becomes a survey of its own. One that failed is tried again after a survey that succeeded, not at every look. */
function lateSurveys({ db }: Store): () => void {
  const tried = new Set<string>();
  let lastDone = lastDoneJob(db);
  return () => {
    const done = lastDoneJob(db);
    if (done !== lastDone) tried.clear();
    lastDone = done;
    if (activeJob(db)) return;
    dropKnownDeliveries(db);
    const late = lateDeliveries(db).find(({ surveyId, addresses }) => !tried.has(`${surveyId} ${addresses.length}`));
    if (!late) return;
    tried.add(`${late.surveyId} ${late.addresses.length}`);
    queueSurvey(db, { late: late.surveyId });
  };
}
