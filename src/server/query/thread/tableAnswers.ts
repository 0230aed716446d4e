import { MessageChannel, Worker, type MessagePort } from 'node:worker_threads';
import type { Store } from '../../../store/base/database';
import { answers, exportParts, type Answered, type Arguments, type Export, type Question } from './answers';
import { atOnce } from '../../../core/steps';
import { areSteps } from './steps';
import { toldError, type FromTables, type ToTables } from './messages';

/** Who answers questions about the whole estate. */
export interface TableAnswers {
  ask: <Name extends Question>(name: Name, ...rest: Arguments<Name>) => Promise<Answered<Name>>;
  /** the parts of a file, the next made when the last was taken */
  export: (wanted: Export) => AsyncGenerator<string | Uint8Array>;
  /** calls when a survey was sealed and read; at once for the newest where nobody reads ahead */
  onRead: (listener: () => void) => void;
  /** for how long nothing was heard of whoever reads ahead */
  silentMs: (now: number) => number;
  /** gives a thread that asks by itself a way in, and another one whenever whoever answers was begun again */
  onPort: (listener: (port: MessagePort) => void) => void;
  /** another way in, where the one before is gone */
  newPort: () => void;
}

/** Answers made where they are asked for. */
class AnswersHere implements TableAnswers {
  constructor(readonly store: Store) {}

  ask<Name extends Question>(name: Name, ...rest: Arguments<Name>): Promise<Answered<Name>> {
    return Promise.resolve().then(() => {
      const answer = (answers[name] as (store: Store, ...rest: unknown[]) => unknown)(this.store, ...rest);
      return (areSteps(answer) ? atOnce(answer) : answer) as Answered<Name>;
    });
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

  onPort(): void {
    // whoever asks in this process asks here
  }

  newPort(): void {
    // there is none
  }
}

/** Questions and exports by number, over whatever carries them. */
abstract class AnswersElsewhere {
  #numbers = 0;
  readonly #waiting = new Map<number, { resolve: (message: FromTables) => void; reject: (error: Error) => void }>();

  protected abstract post(message: ToTables): void;

  async ask<Name extends Question>(name: Name, ...rest: Arguments<Name>): Promise<Answered<Name>> {
    const told = await this.#tell({ kind: 'question', number: ++this.#numbers, name, with: rest });
    return (told as { answer: Answered<Name> }).answer;
  }

  async *export(wanted: Export): AsyncGenerator<string | Uint8Array> {
    const number = ++this.#numbers;
    let ended = false;
    try {
      for (let message: Numbered = { kind: 'export', number, export: wanted }; ; message = { kind: 'next', number }) {
        const { part } = (await this.#tell(message)) as { part: string | Uint8Array | null };
        if (part === null) {
          ended = true;
          return;
        }
        yield part;
      }
    } finally {
      if (!ended) this.post({ kind: 'stop', number });
    }
  }

  protected heard(message: FromTables): void {
    if ('beat' in message || 'read' in message) return;
    const waiting = this.#waiting.get(message.number);
    this.#waiting.delete(message.number);
    if ('error' in message) waiting?.reject(toldError(message.error));
    else waiting?.resolve(message);
  }

  /** Nobody answers any more what was asked. */
  protected lost(error: Error): void {
    for (const { reject } of this.#waiting.values()) reject(error);
    this.#waiting.clear();
  }

  #tell(message: Numbered): Promise<FromTables> {
    return new Promise((resolve, reject) => {
      this.#waiting.set(message.number, { resolve, reject });
      this.post(message);
    });
  }
}

type Numbered = Exclude<ToTables, { kind: 'port' }>;

/** Answers for a thread that asks by itself, over the way in that it was given last. */
class AnswersOverPort extends AnswersElsewhere implements TableAnswers {
  #port: MessagePort | null = null;
  #early: ToTables[] = [];

  use(port: MessagePort): void {
    this.#port?.close();
    this.lost(new Error('the thread of tables ended'));
    this.#port = port;
    port.on('message', (message: FromTables) => this.heard(message));
    for (const message of this.#early.splice(0)) port.postMessage(message);
  }

  protected post(message: ToTables): void {
    if (this.#port) this.#port.postMessage(message);
    else this.#early.push(message);
  }

  onRead(): void {
    // the process that has the thread hears of it
  }

  silentMs(): number {
    return 0;
  }

  onPort(): void {
    // it has one itself
  }

  newPort(): void {
    // it is given one
  }
}

/** How long a thread may say nothing: it beats every second, and between the steps of what takes long. */
const hangsMs = 60_000;
const lookMs = 5000;
const againMs = 1000;

/** Answers of a thread. One that ended or hangs is begun again. */
class AnswersBeside extends AnswersElsewhere implements TableAnswers {
  #thread: Worker | null = null;
  #heardAt = Date.now();
  #listeners: (() => void)[] = [];
  #portListeners: ((port: MessagePort) => void)[] = [];

  constructor(
    readonly program: string,
    readonly folder: string,
  ) {
    super();
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

  onPort(listener: (port: MessagePort) => void): void {
    this.#portListeners.push(listener);
    this.#givePort(listener);
  }

  newPort(): void {
    this.#portListeners.forEach((listener) => this.#givePort(listener));
  }

  #givePort(listener: (port: MessagePort) => void): void {
    const { port1: theirs, port2: ours } = new MessageChannel();
    this.#started().postMessage({ kind: 'port', port: ours } satisfies ToTables, [ours]);
    listener(theirs);
  }

  protected post(message: ToTables): void {
    this.#started().postMessage(message);
  }

  onRead(listener: () => void): void {
    this.#listeners.push(listener);
  }

  #started(): Worker {
    if (this.#thread) return this.#thread;
    this.#heardAt = Date.now();
    const thread = new Worker(this.program, { workerData: { folder: this.folder } });
    thread.unref();
    const gone = (error: Error) => {
      this.lost(error);
      if (this.#thread !== thread) return;
      this.#thread = null;
      // without it nothing would be read ahead, and no check be judged
      setTimeout(() => {
        this.#started();
        this.newPort();
      }, againMs).unref();
    };
    thread.on('error', gone);
    thread.on('exit', () => gone(new Error('the thread of tables ended')));
    thread.on('message', (message: FromTables) => {
      this.#heardAt = Date.now();
      if ('read' in message) this.#listeners.forEach((listener) => listener());
      else this.heard(message);
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

/** Has questions about tables answered over a port, for a store that another thread of this process has open too. */
export function answerTablesThrough(store: Store): { use: (port: MessagePort) => void } {
  const answersThere = new AnswersOverPort();
  place.bolideTables ??= new WeakMap();
  place.bolideTables.set(store, answersThere);
  return answersThere;
}
