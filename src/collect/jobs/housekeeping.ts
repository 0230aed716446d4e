import { settledImages } from '../images/readImages';
import { isBackupDue } from '../../core/backup/backupPlan';
import { lastBackup, readBackupPlan } from '../../store/backups';
import type { Store } from '../../store/base/database';
import { wipeDeleted } from '../../store/credentials';
import { changedImages, findImages, type FoundImage } from '../../store/images';
import { lastOfKind, queueJob } from '../../store/jobs';
import { giveBackRoom, noteGrowth, pruneSome, readRetention } from '../../store/keeping';
import { forgetSessions } from '../../store/sessions';
import { clearSomeTalk } from '../../store/talk/captures';
import { surveysToThin, thinSurvey } from '../../store/thinning';

/** What is done by the clock, whoever is there: nothing that is over stays because nobody came by. */
export function keepHouse(store: Store, now: Date): void {
  wipeDeleted(store, now);
  forgetSessions(store.db, now);
  backUpByTheClock(store, now);
  lookAtImages(store, now);
  noteGrowth(store);
  clearSomeTalk(store.db);
  prune(store, now);
}

/** Looking for what is too old reads much: where there was nothing, it rests. */
const restMs = 6 * 3_600_000;
const restUntil = new WeakMap<Store, number>();

function prune(store: Store, now: Date): void {
  if (now.getTime() < (restUntil.get(store) ?? 0)) return;
  const { surveysDays } = readRetention(store.db);
  const [oldest] = surveysDays > 0 ? surveysToThin(store, surveysDays, now) : [];
  if (oldest !== undefined) thinSurvey(store, oldest);
  if (pruneSome(store, now) > 0 || oldest !== undefined) giveBackRoom(store);
  else restUntil.set(store, now.getTime() + restMs);
}

/** What somebody put into the folder of images is read without being asked. A folder that cannot be looked at stops nothing else. */
function lookAtImages({ db, folder }: Store, now: Date): void {
  const last = lastOfKind(db, 'images');
  if (last?.endedAt === null) return;
  let found: FoundImage[];
  try {
    found = findImages(folder);
  } catch (error) {
    console.error('the folder of images:', (error as Error).message);
    return;
  }
  const { toRead, gone } = changedImages(db, found);
  if (gone.length > 0 || settledImages(toRead, now.getTime()).length > 0) queueJob(db, 'images', {}, now);
}

/** After a copy that failed it is tried again, but not at once. */
const againMs = 3_600_000;

function backUpByTheClock(store: Store, now: Date): void {
  const { db } = store;
  if (!isBackupDue(readBackupPlan(db), lastBackup(store, now), now)) return;
  const last = lastOfKind(db, 'backup');
  if (last && (last.endedAt === null || now.getTime() - Date.parse(last.endedAt) < againMs)) return;
  queueJob(db, 'backup', {}, now);
}
