import { rmSync } from 'node:fs';
import path from 'node:path';
import { readScope, scopeDefaults, type Scope, type ScopeText } from '../../core/estate/scope';
import { PinnedCertificates } from '../../store/certificates';
import { lateDeliveries } from '../../store/collectors';
import {
  abandonedJobs,
  activeJob,
  canResume,
  giveUpJob,
  queueSurvey,
  readJob,
  takeJob,
  updateJob,
  type Job,
  type SurveyJobBody,
} from '../../store/jobs';
import { readSignatures } from '../../store/programFiles';
import { startDue } from '../../store/schedule';
import { openStore, type Store } from '../../store/base/database';
import { isDiskFull } from '../../store/base/storeFault';
import { listCredentials, openCredentials } from '../../store/credentials';
import { listScopes } from '../../store/scopes';
import { readSiteRules } from '../../store/siteRules';
import { uploadFolder } from '../../store/uploads';
import { readTreeFolder } from '../files/treeFolder';
import { readWalkFolder } from '../files/walkFolder';
import { runSurvey, type SurveyPlan } from '../survey/runSurvey';
import { testCredential } from '../survey/testCredential';
import { portLoop } from './portJobs';

const pollMs = 200;
const fullDiskMs = 1000;
const calendarMs = 1000;

/**
 * The engine process: takes surveys one after the other, first those that a dead process left behind, and beside them tests of credentials and acts on ports.
 * A survey of a saved scope or of uploaded files is taken up where it broke off; one that the command line ran, or that others have followed, is given up.
 */
export async function runEngine(folder: string, stopping: () => boolean): Promise<void> {
  const store = openStore(folder);
  await Promise.all([
    surveyLoop(store, stopping),
    testLoop(store, stopping),
    portLoop(store, stopping),
    calendarLoop(store, stopping),
  ]);
  store.close();
}

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

async function surveyLoop(store: Store, stopping: () => boolean): Promise<void> {
  const triedLate = new Set<string>();
  while (!stopping()) {
    for (const broken of abandonedJobs(store.db)) {
      // acts on ports are ended by whoever performs them
      if (broken.kind === 'portAct') continue;
      if (broken.kind === 'survey' && canResume(store.db, broken)) await perform(store, broken);
      else giveUpJob(store.db, broken, 'The process that ran this ended before it was done.');
    }
    const job = takeJob(store.db, process.pid);
    if (job) {
      await perform(store, job);
      if (readJob(store.db, job.id)?.state === 'done') triedLate.clear();
    } else {
      queueLate(store, triedLate);
      await pause(pollMs);
    }
  }
}

/** What collectors delivered after their survey was sealed becomes a survey of its own. One that failed is tried again after a survey that succeeded, not at every look. */
function queueLate({ db }: Store, tried: Set<string>): void {
  if (activeJob(db)) return;
  const late = lateDeliveries(db).find(({ surveyId, addresses }) => !tried.has(`${surveyId} ${addresses.length}`));
  if (!late) return;
  tried.add(`${late.surveyId} ${late.addresses.length}`);
  queueSurvey(db, { late: late.surveyId });
}

async function testLoop(store: Store, stopping: () => boolean): Promise<void> {
  while (!stopping()) {
    const job = takeJob(store.db, process.pid, 'credentialTest');
    if (job) await performTest(store, job);
    else await pause(pollMs);
  }
}

async function calendarLoop(store: Store, stopping: () => boolean): Promise<void> {
  while (!stopping()) {
    try {
      startDue(store.db, new Date());
    } catch (error) {
      if (!isDiskFull(error)) throw error;
    }
    await pause(calendarMs);
  }
}

async function performTest(store: Store, job: Job): Promise<void> {
  const { db } = store;
  const { credentialId, address, scopeId } = job.body as {
    credentialId: number;
    address: string;
    scopeId: number | null;
  };
  try {
    const name = listCredentials(db).find(({ id }) => id === credentialId)?.name ?? '';
    const [credential] = openCredentials(store, [name], 'any');
    if (!credential) throw new Error('the credential was deleted before it was tried');
    const text = listScopes(db).find(({ id }) => id === scopeId)?.scope ?? scopeDefaults;
    const scope = checkedScope({ ...text, ranges: [address], exclusions: [] });
    const result = await testCredential(credential, address, scope, new PinnedCertificates(db, () => new Date()));
    updateJob(db, job.id, { state: 'done', result, endedAt: new Date().toISOString() });
  } catch (error) {
    console.error(`test ${job.id} failed:`, error);
    await giveUp(store, job, error);
  }
}

function checkedScope(text: ScopeText): Scope {
  const read = readScope(text);
  if ('mistakes' in read)
    throw new Error(read.mistakes.map(({ path: field, message }) => `${field}: ${message}`).join('; '));
  return read.scope;
}

async function perform(store: Store, job: Job): Promise<void> {
  const { db } = store;
  updateJob(db, job.id, { state: 'running', workerPid: process.pid });
  try {
    let asked = 0;
    let wish = false;
    const cancelled = () => {
      // the row is looked at now and then, not at every packet
      if (!wish && asked++ % 20 === 0) wish = readJob(db, job.id)?.cancelRequested ?? false;
      return wish;
    };
    await runSurvey(store, {
      ...planOf(store, job.body as SurveyJobBody),
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
  const { upload } = job.body as { upload?: string };
  if (upload !== undefined) rmSync(path.join(uploadFolder(store.folder), upload), { recursive: true, force: true });
}

/** What a job asks: a saved scope over the wire, or the files of an upload. */
function planOf(
  store: Store,
  body: SurveyJobBody,
): Pick<SurveyPlan, 'scope' | 'scopeName' | 'credentials' | 'files' | 'trees' | 'unreadable' | 'delivered'> {
  if ('scopeId' in body) {
    const text = listScopes(store.db).find(({ id }) => id === body.scopeId)?.scope;
    if (!text) throw new Error('the scope of this survey was deleted before it began');
    return { scope: checkedScope(text), scopeName: text.name, credentials: openCredentials(store, text.credentials) };
  }
  if ('late' in body) {
    const late = lateDeliveries(store.db).find(({ surveyId }) => surveyId === body.late);
    return {
      scope: checkedScope({ ...scopeDefaults, ranges: [...new Set(late?.addresses ?? [])] }),
      scopeName: `${late?.scopeName ?? ''}, delivered late`,
      credentials: [],
      delivered: body.late,
    };
  }
  const folder = path.join(uploadFolder(store.folder), body.upload);
  const { files, trees, problems } =
    body.format === 'walks' ? walksOf(folder) : { files: undefined, ...readTreeFolder(folder) };
  const addresses = [...(files?.keys() ?? []), ...(trees?.keys() ?? [])];
  if (addresses.length === 0)
    throw new Error(
      `no readable file in “${body.name}”${problems[0] ? `: ${problems[0].file} ${problems[0].reason}` : ''}`,
    );
  return {
    scope: checkedScope({ ...scopeDefaults, name: body.name, ranges: addresses }),
    scopeName: body.name,
    credentials: [],
    ...(files && { files }),
    ...(trees && { trees }),
    unreadable: problems,
  };
}

function walksOf(folder: string) {
  const { walks, problems } = readWalkFolder(folder);
  return { files: new Map(walks.map(({ address, source }) => [address, source])), trees: undefined, problems };
}

/** Tells why a job failed. Where the disk is full not even that can be written: it is tried until there is room, for nothing else can be done meanwhile. */
async function giveUp(store: Store, job: Job, error: unknown): Promise<void> {
  try {
    giveUpJob(
      store.db,
      readJob(store.db, job.id) ?? job,
      isDiskFull(error)
        ? 'The disk is full: nothing more could be written. Make room and survey again; what was sealed before is whole.'
        : (error as Error).message,
    );
  } catch (again) {
    if (!isDiskFull(again)) throw again;
    await pause(fullDiskMs);
    await giveUp(store, job, error);
  }
}
