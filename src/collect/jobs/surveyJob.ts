import { rmSync } from 'node:fs';
import path from 'node:path';
import * as yup from 'yup';
import { scopeDefaults } from '../../core/estate/scope';
import type { Store } from '../../store/base/database';
import { lateDeliveries } from '../../store/collectors';
import { openCredentials } from '../../store/credentials';
import { canResume, updateJob, type SurveyJobBody } from '../../store/jobs';
import { readSignatures } from '../../store/programFiles';
import { listScopes } from '../../store/scopes';
import { uploadFolder } from '../../store/uploads';
import { readTreeFolder } from '../files/treeFolder';
import { readWalkFolder } from '../files/walkFolder';
import { runSurvey, type SurveyPlan } from '../survey/runSurvey';
import { checkedScope } from './checkedScope';
import { jobKind } from './jobKind';

const payload = yup
  .object({
    scopeId: yup.number().integer(),
    only: yup.array(yup.string().required()).max(5000),
    late: yup.number().integer(),
    upload: yup.string(),
    format: yup.string().oneOf(['walks', 'trees'] as const),
    name: yup.string(),
  })
  .noUnknown() as unknown as yup.Schema<SurveyJobBody>;

/**
 * A survey of a saved scope or of uploaded files is taken up where it broke off; one that the command line ran, or that others have followed, is given up.
 */
export const surveyJob = jobKind<SurveyJobBody>({
  kind: 'survey',
  lane: 'surveys',
  payload,
  attempts: 5,
  resumes: ({ db }, job) => canResume(db, job),
  run: async ({ store, job, body, signal }) => {
    await runSurvey(store, {
      ...planOf(store, body),
      signatures: readSignatures(store.folder),
      cancelled: () => signal.aborted,
      ...(job.surveyId !== null && { resume: job.surveyId }),
      onStarted: (surveyId) => updateJob(store.db, job.id, { surveyId }),
    });
  },
  ended: (store, { body }) => {
    const { upload } = body as { upload?: string };
    if (upload !== undefined) rmSync(path.join(uploadFolder(store.folder), upload), { recursive: true, force: true });
  },
});

type AskedPlan = Pick<
  SurveyPlan,
  'scope' | 'scopeName' | 'scopeId' | 'credentials' | 'files' | 'trees' | 'unreadable' | 'delivered'
>;

/** What a job asks: a saved scope over the wire, the files of an upload, or what was delivered late. */
function planOf(store: Store, body: SurveyJobBody): AskedPlan {
  if ('scopeId' in body) {
    const text = listScopes(store.db).find(({ id }) => id === body.scopeId)?.scope;
    if (!text) throw new Error('the scope of this survey was deleted before it began');
    const { name: scopeName, credentials } = text;
    const { scopeId, only } = body;
    const narrowed = only ? { ...text, ranges: only, exclusions: [], neighbourSteps: 0, wakeRanges: [] } : text;
    return { scope: checkedScope(narrowed), scopeName, scopeId, credentials: openCredentials(store, credentials) };
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
  return planOfFiles(path.join(uploadFolder(store.folder), body.upload), body);
}

function planOfFiles(folder: string, { format, name }: Extract<SurveyJobBody, { upload: string }>): AskedPlan {
  const { files, trees, problems } =
    format === 'walks' ? walksOf(folder) : { files: undefined, ...readTreeFolder(folder) };
  const addresses = [...(files?.keys() ?? []), ...(trees?.keys() ?? [])];
  if (addresses.length === 0) {
    const [first] = problems;
    throw new Error(`no readable file in “${name}”${first ? `: ${first.file} ${first.reason}` : ''}`);
  }
  return {
    scope: checkedScope({ ...scopeDefaults, name, ranges: addresses }),
    scopeName: name,
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
