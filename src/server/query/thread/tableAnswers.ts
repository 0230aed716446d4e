import { Worker } from 'node:worker_threads';
import type { Store } from '../../../store/base/database';
import { answers, exportParts, type Answers, type Arguments, type Export, type Question } from './answers';
import { toldError, type FromTables, type ToTables } from './messages';

/** Who answers questions about the whole estate. */
export interface TableAnswers {
  ask: <Name extends Question>(name: Name, ...rest: Arguments<Name>) => Promise<ReturnType<Answers[Name]>>;
  /** the parts of a file, the next made when the last was taken */
  export: (wanted: Export) => AsyncGenerator<string | Uint8Array>;
  /** calls when a survey was sealed and read; at once for the newest where nobody reads ahead */
  onRead: (listener: () => void) => void;
  /** for how long nothing was heard of whoever reads ahead */
  silentMs: (now: number) => number;
}

/** Answers made where they are asked for. */
class AnswersHere implements TableAnswers {
  constructor(readonly store: Store) {}

  ask<Name extends Question>(name: Name, ...rest: Arguments<Name>): Promise<ReturnType<Answers[Name]>> {
    return Promise.resolve().then(() =>
      (answers[name] as (store: Store, ...rest: unknown[]) => ReturnType<Answers[Name]>)(this.store, ...rest),
    );
  }

  export(wanted: Export): AsyncGenerator<string | Uint8Array> {
    return exportParts(this.store, wanted);
  }

  onRead(listener: () => void): void {
    listener();
  }

  silentMs(): number {
    return 0;
  }
}

/** How long a thread may say nothing: it beats every second, and between the steps of what takes long. */
const hangsMs = 60_000;
const lookMs = 5000;
const againMs = 1000;

/** Answers of a thread. One that ended or hangs is begun again. */
class AnswersBeside implements TableAnswers {
  #thread: Worker | null = null;
  #numbers = 0;
  #heardAt = Date.now();
  #listeners: (() => void)[] = [];
  readonly #waiting = new Map<number, { resolve: (message: FromTables) => void; reject: (error: Error) => void }>();

  constructor(
    readonly program: string,
    readonly folder: string,
  ) {
    // it reads ahead before anybody asks
    this.#started();
    setInterval(() => {
      if (this.#thread && this.silentMs(Date.now()) > hangsMs) {
        console.error(`the thread of tables said nothing for ${hangsMs / 1000} s: it is ended`);
        void this.#thread.terminate();
      }
    }, lookMs).unref();
  }

  silentMs(now: number): number {
    return now - this.#heardAt;
  }

  async ask<Name extends Question>(name: Name, ...rest: Arguments<Name>): Promise<ReturnType<Answers[Name]>> {
    const told = await this.#tell({ kind: 'question', number: ++this.#numbers, name, with: rest });
    return (told as { answer: ReturnType<Answers[Name]> }).answer;
  }

  async *export(wanted: Export): AsyncGenerator<string | Uint8Array> {
    const number = ++this.#numbers;
    let ended = false;
    try {
      for (let message: ToTables = { kind: 'export', number, export: wanted }; ; message = { kind: 'next', number }) {
        const { part } = (await this.#tell(message)) as { part: string | Uint8Array | null };
        if (part === null) {
          ended = true;
          return;
        }
        yield part;
      }
    } finally {
      if (!ended) this.#thread?.postMessage({ kind: 'stop', number } satisfies ToTables);
    }
  }

  onRead(listener: () => void): void {
    this.#listeners.push(listener);
  }

  #tell(message: ToTables): Promise<FromTables> {
    return new Promise((resolve, reject) => {
      this.#waiting.set(message.number, { resolve, reject });
      this.#started().postMessage(message);
    });
  }

  #started(): Worker {
    if (this.#thread) return this.#thread;
    this.#heardAt = Date.now();
    const thread = new Worker(this.program, { workerData: { folder: this.folder } });
    thread.unref();
    const gone = (error: Error) => {
      if (this.#thread === thread) {
        this.#thread = null;
        // without it nothing would be read ahead, and no check be judged
        setTimeout(() => this.#started(), againMs).unref();
      }
      for (const { reject } of this.#waiting.values()) reject(error);
      this.#waiting.clear();
    };
    thread.on('error', gone);
    thread.on('exit', () => gone(new Error('the thread of tables ended')));
    thread.on('message', (message: FromTables) => {
      this.#heardAt = Date.now();
      if ('beat' in message) return;
      if ('read' in message) {
        this.#listeners.forEach((listener) => listener());
        return;
      }
      const waiting = this.#waiting.get(message.number);
      this.#waiting.delete(message.number);
      if ('error' in message) waiting?.reject(toldError(message.error));
      else waiting?.resolve(message);
    });
    return (this.#thread = thread);
  }
}

const place = globalThis as { bolideTables?: WeakMap<Store, TableAnswers> };

/** Who answers for an open data folder: a thread where its program is named, else whoever asks. */
export function tableAnswers(store: Store): TableAnswers {
  place.bolideTables ??= new WeakMap();
  let known = place.bolideTables.get(store);
  const program = process.env.BOLIDE_TABLE_THREAD;
  if (!known)
    place.bolideTables.set(
      store,
      (known = program ? new AnswersBeside(program, store.folder) : new AnswersHere(store)),
    );
  return known;
}
