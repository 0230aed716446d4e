import { probesAtOnce } from '../probesAtOnce';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { AddressHint } from '../../../core/estate/visit';
import type { SeenCertificate } from '../../../core/collectors/protocol';
import { programBeside } from '../../beside/programBeside';
import type { AddressReader, ReaderPlan, Take } from '../addressReader';
import type { FromThread, Pin, ThreadPlan, ToThread } from './messages';

const mostThreads = 4;
/** Fewer addresses are read sooner than a thread begins. */
const worthwhile = 64;
/** Most of what a reader makes is short-lived: a larger nursery saves it from being copied. */
const nurseryMb = 96;
const cancelPollMs = 100;

export interface ThreadsPlan extends Omit<ReaderPlan, 'certificates' | 'files' | 'trees'> {
  packetsPerSecond: number;
  pinnedFor: (addresses: string[]) => Pin[];
  seen: (certificate: SeenCertificate) => void;
}

/** How many threads are worth it for so many addresses; 0 where the reader at hand does it, as where the sources run as they are. */
export function threadsFor(addresses: number): number {
  return addresses < worthwhile || programBeside('reader') === null
    ? 0
    : Math.min(mostThreads, Math.max(1, availableParallelism() - 1));
}

/**
 * Reads addresses in threads of their own, as `AddressReader` does in this one. Scope, politeness and packet rate are shared out among them. What they
 * collect is taken here, one visit after the other; a thread whose visits wait reads no more meanwhile.
 */
export class ReaderThreads implements Pick<AddressReader, 'readAll' | 'close'> {
  readonly #threads: Worker[] = [];
  readonly #cancelled = new SharedArrayBuffer(4);
  readonly #poll: NodeJS.Timeout;
  #failure: Error | null = null;

  /** @param program what a thread runs */
  constructor(
    readonly plan: ThreadsPlan,
    readonly count: number,
    readonly program = programBeside('reader') ?? '',
  ) {
    this.#poll = setInterval(() => {
      if (plan.cancelled()) Atomics.store(new Int32Array(this.#cancelled), 0, 1);
    }, cancelPollMs);
  }

  async readAll(addresses: string[], take: Take): Promise<void> {
    if (this.#threads.length === 0) this.#start();
    await Promise.all(
      this.#threads.map((thread, place) =>
        this.#ask(
          thread,
          addresses.filter((_, at) => at % this.count === place),
          take,
        ),
      ),
    );
  }

  close(): void {
    clearInterval(this.#poll);
    for (const thread of this.#threads) thread.postMessage({ kind: 'close' } satisfies ToThread);
  }

  #start(): void {
    const {
      scope: { follows: _follows, ...scope },
      credentials,
      signatures,
      packetsPerSecond,
    } = this.plan;
    const workerData: ThreadPlan = {
      scope: { ...scope, addresses: [], wake: [], concurrency: Math.max(1, Math.ceil(scope.concurrency / this.count)) },
      credentials,
      signatures,
      packetsPerSecond: packetsPerSecond / this.count,
      atOnce: Math.max(1, Math.ceil((this.plan.atOnce ?? probesAtOnce(scope.concurrency)) / this.count)),
      cancelled: this.#cancelled,
    };
    for (let at = 0; at < this.count; at++) {
      const thread = new Worker(this.program, { workerData, resourceLimits: { maxYoungGenerationSizeMb: nurseryMb } });
      thread.setMaxListeners(0);
      thread.on('error', (error) => (this.#failure ??= error));
      this.#threads.push(thread);
    }
  }

  #ask(thread: Worker, addresses: string[], take: Take): Promise<void> {
    const hints: Record<string, AddressHint> = {};
    for (const address of addresses) {
      const hint = this.plan.hintOf(address);
      if (Object.keys(hint).length > 0) hints[address] = hint;
    }
    return new Promise((resolve, reject) => {
      const done = (settle: () => void) => {
        thread.off('message', arrived);
        thread.off('error', failed);
        thread.off('exit', exited);
        settle();
      };
      const failed = (error: Error) => done(() => reject(error));
      const exited = () => done(() => reject(this.#failure ?? new Error('a reader thread ended before its work')));
      const arrived = (message: FromThread) => {
        if (message.kind === 'asked') done(resolve);
        else if (message.kind === 'reading') this.plan.onReading?.(message.address, message.credential);
        else {
          try {
            for (const certificate of message.certificates) this.plan.seen(certificate);
            void take(message.visit);
          } catch (error) {
            // the store cannot be written to: nobody asks any more
            Atomics.store(new Int32Array(this.#cancelled), 0, 1);
            failed(error as Error);
          }
          thread.postMessage({ kind: 'taken', visit: message.number } satisfies ToThread);
        }
      };
      thread.on('message', arrived);
      thread.on('error', failed);
      thread.on('exit', exited);
      thread.postMessage({ kind: 'ask', addresses, hints, pinned: this.plan.pinnedFor(addresses) } satisfies ToThread);
    });
  }
}
