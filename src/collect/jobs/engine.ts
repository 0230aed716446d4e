import { readScope, type ScopeText } from '../../core/estate/scope';
import { abandonedJobs, canResume, giveUpJob, readJob, takeJob, updateJob, type Job } from '../../store/jobs';
import { readSignatures } from '../../store/programFiles';
import { isDiskFull, openStore, type Store } from '../../store/database';
import { listScopes, openCredentials, readSiteRules } from '../../store/settings';
import { runSurvey } from '../survey/runSurvey';

const pollMs = 200;
const fullDiskMs = 1000;

/**
 * The engine process: takes jobs one after the other, first those that a dead process left behind. A survey of a saved scope is
 * taken up where it broke off; one that the command line ran, or that others have followed, is given up.
 */
export async function runEngine(folder: string, stopping: () => boolean): Promise<void> {
  const store = openStore(folder);
  while (!stopping()) {
    for (const broken of abandonedJobs(store.db)) {
      if (canResume(store.db, broken)) await perform(store, broken);
      else giveUpJob(store.db, broken, 'The process that ran this survey ended before it was sealed.');
    }
    const job = takeJob(store.db, process.pid);
    if (job) await perform(store, job);
    else await new Promise((resolve) => setTimeout(resolve, pollMs));
  }
  store.close();
}

async function perform(store: Store, job: Job): Promise<void> {
  const { db } = store;
  updateJob(db, job.id, { state: 'running', workerPid: process.pid });
  try {
    const text = scopeOfJob(store, job);
    const read = text && readScope(text);
    if (!text || !read) throw new Error('the scope of this survey was deleted before it began');
    if ('mistakes' in read) throw new Error(read.mistakes.map(({ path, message }) => `${path}: ${message}`).join('; '));
    let asked = 0;
    let wish = false;
    const cancelled = () => {
      // the row is looked at now and then, not at every packet
      if (!wish && asked++ % 20 === 0) wish = readJob(db, job.id)?.cancelRequested ?? false;
      return wish;
    };
    await runSurvey(store, {
      scope: read.scope,
      scopeName: text.name,
      credentials: openCredentials(store, text.credentials),
      signatures: readSignatures(store.folder),
      siteRules: readSiteRules(db),
      cancelled,
      ...(job.surveyId !== null && { resume: job.surveyId }),
      onStarted: (surveyId) => updateJob(db, job.id, { surveyId }),
    });
    updateJob(db, job.id, { state: wish ? 'cancelled' : 'done', endedAt: new Date().toISOString() });
  } catch (error) {
    console.error(`survey job ${job.id} failed:`, error);
    await giveUp(store, job, error);
  }
}

/** Tells why a survey failed. Where the disk is full not even that can be written: it is tried until there is room, for nothing else can be done meanwhile. */
async function giveUp(store: Store, job: Job, error: unknown): Promise<void> {
  try {
    giveUpJob(store.db, readJob(store.db, job.id) ?? job, isDiskFull(error) ? 'The disk is full: nothing more could be written. Make room and survey again; what was sealed before is whole.' : (error as Error).message);
  } catch (again) {
    if (!isDiskFull(again)) throw again;
    await new Promise((resolve) => setTimeout(resolve, fullDiskMs));
    await giveUp(store, job, error);
  }
}

function scopeOfJob(store: Store, job: Job): ScopeText | undefined {
  const { scopeId } = job.body as { scopeId?: number };
  return listScopes(store.db).find(({ id }) => id === scopeId)?.scope;
}
