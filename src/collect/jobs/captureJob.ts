import { rmSync } from 'node:fs';
import path from 'node:path';
import * as yup from 'yup';
import { CaptureError } from '../../core/flow/captureReader';
import { latestSealed } from '../../store/base/sealedSurveys';
import { listenersAt } from '../../store/listeners';
import { isTakenIn, keepCapture } from '../../store/talk/captures';
import { uploadFolder } from '../../store/uploads';
import { notesOfCapture, readCapture } from '../captures/takeCapture';
import { jobKind } from './jobKind';

/** What came of a capture that was sent. */
export interface CaptureResult {
  state: 'taken in' | 'taken in before';
  packets: number;
  conversations: number;
  notes: string[];
}

const payload = yup
  .object({ upload: yup.string().required(), name: yup.string().required(), point: yup.string().required() })
  .noUnknown();
type Body = yup.InferType<typeof payload>;

/** Takes a capture in that was sent, beside whatever else the engine does. */
export const captureJob = jobKind<Body>({
  kind: 'capture',
  lane: 'care',
  payload,
  attempts: 2,
  resumes: () => true,
  run: async ({ store: { db, folder }, body: { upload, name, point }, signal }): Promise<CaptureResult> => {
    const now = new Date();
    try {
      const read = await readCapture(path.join(uploadFolder(folder), upload), {
        isListener: listenersAt(db, latestSealed(db)),
        now,
        name,
        point,
        signal,
      });
      const isKnown = isTakenIn(db, read.taken.digest) || keepCapture(db, read.taken, read.talks, now) === null;
      return {
        state: isKnown ? 'taken in before' : 'taken in',
        packets: read.taken.packets,
        conversations: read.talks.length,
        notes: notesOfCapture(read),
      };
    } catch (error) {
      if (error instanceof CaptureError) throw new Error(`${name}: ${error.message}`);
      throw error;
    }
  },
  ended: ({ folder }, { body }) => {
    const { upload } = body as Body;
    rmSync(path.join(uploadFolder(folder), upload), { force: true });
  },
});
