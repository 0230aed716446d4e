import { isMainThread, Worker } from 'node:worker_threads';
import { Problem } from '../access/problem';
import { webStore } from '../access/store';
import { tableAnswers } from '../query/thread/tableAnswers';
import type { FromBeside, ToBeside } from './messages';

/** Has requests that may take long answered in a thread, so that nobody else waits with them. */
export class BesideThread {
  #thread: Worker | null = null;
  #numbers = 0;
  readonly #waiting = new Map<number, { resolve: (answer: Response) => void; reject: (error: Error) => void }>();

  constructor(readonly program: string) {
    // whoever answers for tables has another way in each time it begins
    tableAnswers(webStore()).onPort((port) => {
      this.#started().postMessage({ kind: 'tables', port } satisfies ToBeside, [port]);
    });
  }

  /** @throws Problem where the thread ended in the middle of it */
  answer({ method, url, headers }: Request, body: Uint8Array): Promise<Response> {
    const number = ++this.#numbers;
    // the key was looked at already: once here is once in all
    const told = [...headers].filter(([name]) => name !== 'idempotency-key' && name !== 'content-length');
    const message: ToBeside = { kind: 'request', number, method, url, headers: told, body };
    return new Promise((resolve, reject) => {
      this.#waiting.set(number, { resolve, reject });
      this.#started().postMessage(message);
    });
  }

  #started(): Worker {
    if (this.#thread) return this.#thread;
    const thread = new Worker(this.program);
    thread.unref();
    const gone = () => {
      if (this.#thread === thread) {
        this.#thread = null;
        // it needs a way to the tables before it is asked again
        tableAnswers(webStore()).newPort();
      }
      const words =
        'What does the long work ended in the middle of it. It is done as a whole or not at all: look which.';
      for (const { reject } of this.#waiting.values()) reject(new Problem(503, 'Broken off', words));
      this.#waiting.clear();
    };
    thread.on('error', (error) => console.error('the thread of long work:', error));
    thread.on('exit', gone);
    thread.on('message', ({ number, status, headers, body }: FromBeside) => {
      this.#waiting.get(number)?.resolve(new Response(body as BodyInit, { status, headers }));
      this.#waiting.delete(number);
    });
    return (this.#thread = thread);
  }
}

const place = globalThis as { bolideBeside?: BesideThread };

/** The one of this process, where its program is named; none within it. */
export function besideThread(): BesideThread | null {
  const program = process.env.BOLIDE_WORK_THREAD;
  if (!program || !isMainThread) return null;
  return (place.bolideBeside ??= new BesideThread(program));
}
