import { Problem } from '../access/problem';

/** How long an answer is kept for those who did not hear it, and how many are. */
const keptMs = 10 * 60_000;
const most = 500;
const wellFormed = /^[\w-]{8,100}$/;

interface Kept {
  request: string;
  at: number;
  answer: Promise<Response>;
}

/**
 * Answers to writes, by the key that whoever sends one gives it (`Idempotency-Key`): what was sent again because the answer was lost on the way is not done again,
 * but gets the same answer. They are kept in memory alone, since an answer may hold a secret, such as a new token.
 */
export class AnsweredOnce {
  readonly #kept = new Map<string, Kept>();

  /**
   * @param who sends it: keys of others say nothing
   * @param key as it was sent; null where none was
   * @param request what is asked for: another with the same key is a mistake
   * @throws Problem
   */
  async answer(
    { who, key, request }: { who: string; key: string | null; request: string },
    work: () => Promise<Response>,
    now = Date.now(),
  ): Promise<Response> {
    if (key === null) return work();
    if (!wellFormed.test(key)) {
      const message = 'must be 8 to 100 letters, digits, “-” or “_”';
      throw new Problem(400, 'No key', `Idempotency-Key ${message}.`, [{ path: 'Idempotency-Key', message }]);
    }
    this.#forget(now);
    const place = `${who} ${key}`;
    const known = this.#kept.get(place);
    if (known && known.request !== request)
      throw new Problem(
        422,
        'Key used before',
        'This Idempotency-Key was sent with another request: each has its own.',
      );
    if (known) return (await known.answer).clone();
    const answer = work();
    this.#kept.set(place, { request, at: now, answer });
    try {
      const told = await answer;
      // what failed inside, or is a file, may be asked for again
      if (told.status >= 500 || !told.headers.get('content-type')?.includes('json')) this.#kept.delete(place);
      return told.clone();
    } catch (error) {
      this.#kept.delete(place);
      throw error;
    }
  }

  #forget(now: number): void {
    for (const [place, { at }] of this.#kept) {
      if (now - at <= keptMs && this.#kept.size < most) return;
      this.#kept.delete(place);
    }
  }
}
