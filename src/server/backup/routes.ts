import { statSync } from 'node:fs';
import { backupPlanSchema } from '../../core/backup/backupPlan';
import { recordAct } from '../../store/audit';
import { listBackups, readBackupPlan, saveBackupPlan } from '../../store/backups';
import { databaseFile, type Store } from '../../store/base/database';
import { lastOfKind, queueJob } from '../../store/jobs';
import { route } from '../api/route';

/** How the copy that was asked for last went. */
function lastTry({ db }: Store) {
  const job = lastOfKind(db, 'backup');
  return job && { jobId: job.id, state: job.state, error: job.error, endedAt: job.endedAt };
}

/** Copies of the data: which there are, and when they are made. */
export const backupRoutes = [
  route({
    method: 'GET',
    path: '/backups',
    role: 'administrator',
    summary: 'Copies of the data that are kept, when they are made, and how the last one went',
    run: ({ store }) => {
      const rows = listBackups(store.folder);
      const octets = statSync(databaseFile(store.folder)).size;
      return { rows, total: rows.length, plan: readBackupPlan(store.db), last: lastTry(store), octets };
    },
  }),
  route({
    method: 'POST',
    path: '/backups',
    role: 'administrator',
    summary: 'Copy the data now',
    run: ({ store, person }) => {
      const last = lastOfKind(store.db, 'backup');
      // asked for again while it is made, it is made once
      if (last && last.endedAt === null) return { jobId: last.id };
      const jobId = queueJob(store.db, 'backup', {});
      recordAct(store.db, person.name, 'asked for a backup', '');
      return { jobId };
    },
  }),
  route({
    method: 'PUT',
    path: '/backups/plan',
    role: 'administrator',
    summary: 'Say when the data are copied, and how many copies are kept',
    body: backupPlanSchema,
    run: ({ store, person, body }) => {
      saveBackupPlan(store.db, body);
      const words = body.on ? `each day at ${body.at}, ${body.keep} kept` : 'by hand only';
      recordAct(store.db, person.name, 'said when data are copied', words);
      return {};
    },
  }),
];
