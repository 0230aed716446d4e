import { rmSync } from 'node:fs';
import path from 'node:path';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { BusyError, queueSurvey } from '../../store/jobs';
import { recordAct } from '../../store/people';
import { unpackUpload, uploadFolder, UploadError } from '../../store/uploads';

const largestArchive = 512 * 1024 * 1024;

/** Surveys files instead of the wire: the body is a zip archive of walks (`?format=walks`) or of Redfish trees (`?format=trees`). */
export const POST = route('operator', null, async ({ store, person, request, url }) => {
  const format = url.searchParams.get('format') ?? 'walks';
  const name = (url.searchParams.get('name') ?? '').trim().slice(0, 60) || 'files';
  if (format !== 'walks' && format !== 'trees') throw invalid([{ path: 'format', message: 'use walks or trees' }]);
  if (Number(request.headers.get('content-length') ?? 0) > largestArchive)
    throw new Problem(413, 'Too large', `An archive may have ${largestArchive / 1024 / 1024} MB.`);
  const archive = Buffer.from(await request.arrayBuffer());
  if (archive.length > largestArchive)
    throw new Problem(413, 'Too large', `An archive may have ${largestArchive / 1024 / 1024} MB.`);
  let upload: string;
  try {
    upload = await unpackUpload(store.folder, archive);
  } catch (error) {
    if (!(error instanceof UploadError)) throw error;
    throw new Problem(422, 'No usable archive', `The file ${error.message}.`);
  }
  try {
    const jobId = queueSurvey(store.db, { upload, format, name });
    recordAct(store.db, person.name, 'surveyed files', name);
    return { jobId };
  } catch (error) {
    rmSync(path.join(uploadFolder(store.folder), upload), { recursive: true, force: true });
    if (error instanceof BusyError) throw new Problem(409, 'Busy', error.message);
    throw error;
  }
});
