/** What one device may cost a survey. */
export interface BudgetLimits {
  /** how long it may be waited for, in milliseconds */
  waitMs: number;
  answers: number;
  octets: number;
}

const megabyte = 1024 * 1024;

/** What a device may cost beside the time that its scope grants. */
const usual = { answers: 20_000, octets: 256 * megabyte };

/**
 * What a device has cost so far. Time counts while something asked of it is unanswered; what this process was busy with otherwise, or deaf for, is not
 * the device's.
 */
export class Budget {
  readonly limits: BudgetLimits;
  #answers = 0;
  #octets = 0;
  #waitedMs = 0;
  #open = 0;
  #since = 0;
  #deafSince = 0;

  /** @param now a steady clock @param deaf how long this process has read no answers, in all */
  constructor(
    limits: Partial<BudgetLimits> & Pick<BudgetLimits, 'waitMs'>,
    readonly now: () => number = () => performance.now(),
    readonly deaf: () => number = () => 0,
  ) {
    this.limits = { ...usual, ...limits };
  }

  get leftMs(): number {
    const running = this.#open > 0 ? this.now() - this.#since - (this.deaf() - this.#deafSince) : 0;
    return this.limits.waitMs - this.#waitedMs - Math.max(0, running);
  }

  /** What is said once its time is over. */
  get outOfTime(): string {
    return `it took more than the ${this.limits.waitMs / 1000} s that a device may take`;
  }

  /** Why nothing more is asked, in words; null while there is something left. */
  get spent(): string | null {
    const { answers, octets } = this.limits;
    if (this.leftMs <= 0) return this.outOfTime;
    if (this.#answers >= answers) return `it needed more than ${answers.toLocaleString('en')} answers`;
    return this.#octets >= octets ? `it answered with more than ${Math.round(octets / megabyte)} MB` : null;
  }

  /** Waits for an answer, on the device's account. */
  async waitFor<Result>(work: () => Promise<Result>): Promise<Result> {
    if (this.#open++ === 0) {
      this.#since = this.now();
      this.#deafSince = this.deaf();
    }
    try {
      return await work();
    } finally {
      if (--this.#open === 0) this.#waitedMs += Math.max(0, this.now() - this.#since - (this.deaf() - this.#deafSince));
    }
  }

  /** A part of an answer came. */
  octets(count: number): void {
    this.#octets += count;
  }

  /** An answer is whole. */
  answer(): void {
    this.#answers++;
  }
}
