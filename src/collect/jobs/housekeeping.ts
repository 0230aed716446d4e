import { isBackupDue } from '../../core/backup/backupPlan';
import { lastBackup, readBackupPlan } from '../../store/backups';
import type { Store } from '../../store/base/database';
import { wipeDeleted } from '../../store/credentials';
import { lastOfKind, queueJob } from '../../store/jobs';
import { forgetSessions } from '../../store/sessions';

/** What is done by the clock, whoever is there: nothing that is over stays because nobody came by. */
export function keepHouse(store: Store, now: Date): void {
  wipeDeleted(store, now);
  forgetSessions(store.db, now);
  backUpByTheClock(store, now);
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
