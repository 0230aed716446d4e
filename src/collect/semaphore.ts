/** So many may be at work at the same time; the others wait in the order in which they came. */
export class Semaphore {
  #free: number;
  readonly #waiting: (() => void)[] = [];

  constructor(count: number) {
    this.#free = Math.max(1, count);
  }

  /** Resolves when a slot is free, with what gives it back; giving it back twice does nothing. */
  async take(): Promise<() => void> {
    if (this.#free > 0) this.#free--;
    else await new Promise<void>((resolve) => this.#waiting.push(resolve));
    let held = true;
    return () => {
      if (!held) return;
      held = false;
      const next = this.#waiting.shift();
      if (next) next();
      else this.#free++;
    };
  }
}
