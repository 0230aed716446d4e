import { watch, type FSWatcher } from 'node:fs';

/** How often it is looked where the system tells of no changes to files. */
const blindMs = 200;

/** Tells when anybody, in this process or another, may have written to the database of a folder: so nobody asks it again and again. */
export class ChangeSignal {
  #count = 0;
  #waiting = new Set<() => void>();
  #watcher: FSWatcher | null = null;

  constructor(readonly folder: string) {
    try {
      this.#watcher = watch(folder, { persistent: false }, (_, name) => {
        // what is shared in memory changes with every reader
        if (name === null || (name.startsWith('bolide.sqlite') && !name.endsWith('-shm'))) this.#changed();
      });
      this.#watcher.on('error', () => this.#blind());
    } catch {
      // too many watchers, or a file system that has none
      this.#blind();
    }
  }

  /** Where one stands now: what is written after this was taken ends the wait for it. */
  get mark(): number {
    return this.#count;
  }

  /** Waits until something may have been written since a mark, at most so long. */
  async since(mark: number, atMostMs: number): Promise<void> {
    if (mark !== this.#count) return;
    const waitMs = this.#watcher ? atMostMs : Math.min(atMostMs, blindMs);
    await new Promise<void>((resolve) => {
      const done = () => {
        clearTimeout(timer);
        this.#waiting.delete(done);
        resolve();
      };
      const timer = setTimeout(done, waitMs);
      this.#waiting.add(done);
    });
  }

  close(): void {
    this.#watcher?.close();
    this.#changed();
  }

  #blind(): void {
    this.#watcher?.close();
    this.#watcher = null;
  }

  #changed(): void {
    this.#count++;
    for (const done of this.#waiting) done();
  }
}
