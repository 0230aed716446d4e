import type * as yup from 'yup';
import type { Store } from '../../store/base/database';
import type { TakenJob } from '../../store/jobs';

/** Jobs of one lane wait for each other; lanes go on beside each other. */
export const lanes = {
  /** surveys: one after the other, since they write the same facts */
  surveys: { atOnce: 1, pollMs: 200 },
  /** questions that a person waits for */
  questions: { atOnce: 4, pollMs: 100 },
  /** what is done to equipment */
  hands: { atOnce: 16, pollMs: 100 },
  /** upgrades: each takes hours, and its devices take turns within it */
  firmware: { atOnce: 4, pollMs: 500 },
  /** images that are read: hundreds of gigabytes may lie there, and nothing else waits for that */
  images: { atOnce: 1, pollMs: 1000 },
  /** what keeps the data */
  care: { atOnce: 1, pollMs: 500 },
} as const;
export type Lane = keyof typeof lanes;

/** What a job has to do its work with. */
export interface JobRun<Body> {
  store: Store;
  job: TakenJob;
  body: Body;
  /** fires when somebody cancels it, or somebody else has taken it up */
  signal: AbortSignal;
}

/** A kind of job. The engine takes them from a list; lease, heartbeat, attempts and cancelling are the same for all. */
export interface JobKind<Body = unknown> {
  kind: string;
  lane: Lane;
  /** what its row must hold */
  payload: yup.Schema<Body>;
  /** how often it is begun at most, whoever breaks off */
  attempts: number;
  /** whether it may be begun again where another one left it in its middle; where it is left away it may not */
  resumes?: (store: Store, job: TakenJob) => boolean;
  /** @returns what it found out @throws what makes it fail, in words */
  run: (run: JobRun<Body>) => Promise<unknown>;
  /** once it has failed, was given up or was cancelled before it began */
  undone?: (store: Store, job: TakenJob, why: string) => void;
  /** once it has ended, however */
  ended?: (store: Store, job: TakenJob) => void;
}

/** A kind with a body of its own, as the list holds it. */
export const jobKind = <Body>(kind: JobKind<Body>): JobKind => kind as unknown as JobKind;

/** What a job throws that gives way to somebody who cancelled it. */
export class CancelledError extends Error {
  override name = 'CancelledError';
}

/** Waits for work that cannot be broken off, unless somebody cancels meanwhile. @throws CancelledError */
export function unlessCancelled<Result>(signal: AbortSignal, work: Promise<Result>): Promise<Result> {
  return new Promise((resolve, reject) => {
    const cancel = () => reject(new CancelledError('cancelled'));
    if (signal.aborted) return cancel();
    signal.addEventListener('abort', cancel, { once: true });
    work.then(resolve, reject).finally(() => signal.removeEventListener('abort', cancel));
  });
}
