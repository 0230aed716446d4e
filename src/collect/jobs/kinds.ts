import { backupJob } from './backupJob';
import { captureJob } from './captureJob';
import { credentialTestJob } from './credentialTestJob';
import { imagesJob } from './imagesJob';
import type { JobKind } from './jobKind';
import { portActJob, portLookJob } from './portJobs';
import { upgradeJob } from './upgradeJob';
import { surveyJob } from './surveyJob';

/** Everything the engine can be asked to do. */
export const jobKinds: readonly JobKind[] = [
  surveyJob,
  credentialTestJob,
  portLookJob,
  portActJob,
  backupJob,
  captureJob,
  imagesJob,
  upgradeJob,
];
