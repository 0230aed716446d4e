import { randomBytes } from 'node:crypto';
import * as yup from 'yup';
import { inTransaction, type Store } from '../../store/base/database';
import type { ChangeSignal } from '../../store/changeSignal';
import { isDiskFull, isLocked } from '../../store/base/storeFault';
import { beat, endJob, restoredWorker, takeJob, type TakenJob } from '../../store/jobs';
import { CancelledError, lanes, type JobKind, type Lane } from './jobKind';

const fullDiskMs = 1000;
/** the longest that a lane rests: what was left by others is taken up by the clock */
const idleMs = 2000;
const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

/** What tells a process that works on jobs from all others, also where process numbers come back. */
export const workerMark = (): string => randomBytes(6).toString('hex');

/** How a process that works on jobs calls itself: its number, for people, and a mark that never comes back. */
export const workerName = (mark = workerMark(), processId = process.pid): string => `${processId}-${mark}`;

/** Takes jobs from the list and performs them, each lane beside the others. */
export class Worker {
  readonly #held = new Map<number, AbortController>();

  constructor(
    readonly store: Store,
    readonly name: string,
    readonly kinds: readonly JobKind[],
  ) {}

  /** One beat of the heart: what is worked on stays held; what somebody cancels, or somebody else has taken, is broken off. */
  beat(): void {
    // whoever holds nothing writes nothing
    if (this.#held.size === 0) return;
    const held = new Map(beat(this.store.db, this.name).map(({ id, cancelRequested }) => [id, cancelRequested]));
    for (const [id, controller] of this.#held) if (held.get(id) ?? true) controller.abort();
  }

  /** Performs the jobs of one lane until the engine stops. @param turned called at every look for a job @param changes tells when to look; without it, it is looked again and again */
  async lane(lane: Lane, stopping: () => boolean, turned: () => void, changes?: ChangeSignal): Promise<void> {
    const { atOnce, pollMs } = lanes[lane];
    const names = this.kinds.filter((kind) => kind.lane === lane).map(({ kind }) => kind);
    const going = new Set<Promise<void>>();
    let fault: unknown;
    while (!stopping() && fault === undefined) {
      turned();
      const mark = changes?.mark ?? 0;
      const job = going.size < atOnce ? this.#take(names) : null;
      if (!job) {
        await pause(pollMs);
        await changes?.since(mark, idleMs);
        continue;
      }
      const work = this.#perform(job);
      going.add(work);
      // what even giving up does not help against ends the engine: a lane that stands still would be noticed by nobody
      work.catch((error: unknown) => (fault = error)).finally(() => going.delete(work));
    }
    await Promise.allSettled(going);
    if (fault !== undefined) throw fault;
  }

  /** Whoever is kept out by another writer, or has no room to write, looks again. */
  #take(names: readonly string[]): TakenJob | null {
    try {
      return takeJob(this.store.db, this.name, names);
    } catch (error) {
      if (!isDiskFull(error) && !isLocked(error)) throw error;
      return null;
    }
  }

  async #perform(job: TakenJob): Promise<void> {
    const kind = this.kinds.find((one) => one.kind === job.kind);
    if (!kind) throw new Error(`nobody knows jobs of the kind “${job.kind}”`);
    const refusal = this.#refusal(kind, job);
    const isOurs = refusal ? await this.#end(kind, job, refusal) : await this.#run(kind, job);
    // what somebody else has taken up is not over
    if (isOurs) kind.ended?.(this.store, job);
  }

  /** Why a job is not begun; null where it is. */
  #refusal(kind: JobKind, job: TakenJob): { state: 'failed' | 'cancelled'; error: string } | null {
    if (job.cancelRequested && !job.isTakenUp) return { state: 'cancelled', error: 'Cancelled before it began.' };
    if (job.heldBefore === restoredWorker)
      return { state: 'failed', error: 'It was under way when the backup was made that was restored since.' };
    if (job.isTakenUp && !(kind.resumes?.(this.store, job) ?? false)) {
      return { state: 'failed', error: 'The process that ran this ended before it was done.' };
    }
    if (job.attempts > kind.attempts) {
      const error = `Begun ${kind.attempts} times, and each time the process that ran it ended before it was done.`;
      return { state: 'failed', error };
    }
    return null;
  }

  /** @returns whether the job was still ours when it ended */
  async #run(kind: JobKind, job: TakenJob): Promise<boolean> {
    const controller = new AbortController();
    this.#held.set(job.id, controller);
    const { signal } = controller;
    try {
      const body = payloadOf(kind, job);
      const result = await kind.run({ store: this.store, job, body, signal });
      const state = signal.aborted && kind.lane !== 'hands' ? 'cancelled' : 'done';
      return await this.#write(() => endJob(this.store.db, job, { state, ...(result !== undefined && { result }) }));
    } catch (error) {
      if (error instanceof CancelledError)
        return await this.#end(kind, job, { state: 'cancelled', error: 'Cancelled.' });
      console.error(`${job.kind} ${job.id} failed:`, error);
      return await this.#end(kind, job, { state: 'failed', error: wordsOf(error) });
    } finally {
      this.#held.delete(job.id);
    }
  }

  /** @returns whether the job was still ours: what comes of one that is not, others tell */
  #end(kind: JobKind, job: TakenJob, end: { state: 'failed' | 'cancelled'; error: string }): Promise<boolean> {
    const { db } = this.store;
    return this.#write(() =>
      inTransaction(db, () => {
        const isOurs = endJob(db, job, end);
        if (isOurs) kind.undone?.(this.store, job, end.error);
        return isOurs;
      }),
    );
  }

  /** Where the disk is full not even an end can be written: it is tried until there is room, for nothing else can be done meanwhile. */
  async #write(work: () => boolean): Promise<boolean> {
    for (;;) {
      try {
        return work();
      } catch (error) {
        if (!isDiskFull(error) && !isLocked(error)) throw error;
        await pause(fullDiskMs);
      }
    }
  }
}

/** @throws Error where the row does not hold what its kind needs */
function payloadOf(kind: JobKind, job: TakenJob): unknown {
  try {
    return kind.payload.validateSync(job.body, { strict: true });
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    throw new Error(`this job is not understood: ${error.message}`);
  }
}

const wordsOf = (error: unknown): string =>
  isDiskFull(error)
    ? 'The disk is full: nothing more could be written. Make room and survey again; what was sealed before is whole.'
    : error instanceof Error
      ? error.message
      : String(error);
