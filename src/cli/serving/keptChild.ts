import type { ChildProcess } from 'node:child_process';
import { ping } from './pings';

/** How a child is kept going. */
export interface Keeping {
  name: string;
  start: () => ChildProcess;
  /** called when it ended, before it starts again */
  ended?: (child: ChildProcess) => void;
  /** why it hangs, beside that it answers nothing; null where it does not */
  hangs?: (startedAt: number) => string | null;
  /** how long it may answer nothing */
  silentMs?: number;
  /** how often it is asked */
  askMs?: number;
}

const firstDelayMs = 500;
const longestDelayMs = 30_000;
const settledMs = 60_000;
const partingMs = 4000;

/** A child process that is started again when it ends, and when it hangs. */
export class KeptChild {
  #child: ChildProcess;
  #stopping = false;
  #delayMs = firstDelayMs;
  #startedAt = 0;
  #heardAt = 0;
  #beginning: ReturnType<typeof setTimeout> | undefined;
  readonly #asking: ReturnType<typeof setInterval>;

  constructor(readonly keeping: Keeping) {
    this.#child = this.#begin();
    this.#asking = setInterval(() => this.#ask(), keeping.askMs ?? 5000);
    this.#asking.unref();
  }

  get child(): ChildProcess {
    return this.#child;
  }

  /** Ends the child, does something while it is gone, and starts it again. */
  async without<Result>(work: () => Promise<Result>): Promise<Result> {
    this.#stopping = true;
    clearTimeout(this.#beginning);
    await this.#end();
    try {
      return await work();
    } finally {
      this.#stopping = false;
      this.#delayMs = firstDelayMs;
      this.#child = this.#begin();
    }
  }

  async stop(): Promise<void> {
    this.#stopping = true;
    clearInterval(this.#asking);
    clearTimeout(this.#beginning);
    await this.#end();
  }

  async #end(): Promise<void> {
    const child = this.#child;
    if (child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
    child.kill('SIGTERM');
    const force = setTimeout(() => child.kill('SIGKILL'), partingMs);
    await gone;
    clearTimeout(force);
  }

  #begin(): ChildProcess {
    this.#startedAt = this.#heardAt = Date.now();
    const child = this.keeping.start();
    child.on('message', () => (this.#heardAt = Date.now()));
    // a child that ends while it is asked is told of by its end
    child.on('error', (error) => console.error(`${this.keeping.name}:`, error.message));
    child.on('exit', (code, signal) => this.#again(child, code === null ? (signal ?? 'killed') : String(code)));
    return child;
  }

  #again(child: ChildProcess, how: string): void {
    this.keeping.ended?.(child);
    if (this.#stopping) return;
    this.#delayMs =
      Date.now() - this.#startedAt > settledMs ? firstDelayMs : Math.min(this.#delayMs * 2, longestDelayMs);
    console.error(`the ${this.keeping.name} ended (${how}); it starts again in ${this.#delayMs / 1000} s`);
    this.#beginning = setTimeout(() => {
      if (!this.#stopping) this.#child = this.#begin();
    }, this.#delayMs);
  }

  #ask(): void {
    const child = this.#child;
    if (child.exitCode !== null || child.signalCode !== null) return;
    const silent = Date.now() - this.#heardAt;
    const { silentMs = 60_000, hangs } = this.keeping;
    const why = silent > silentMs ? `answered nothing for ${Math.round(silent / 1000)} s` : hangs?.(this.#startedAt);
    if (why) {
      console.error(`the ${this.keeping.name} ${why}: it is ended`);
      child.kill('SIGKILL');
      return;
    }
    if (child.connected) child.send(ping, () => undefined);
  }
}
