import type { Talk } from '../../core/flow/talk';
import type { Db } from '../../store/base/database';
import { mergeTalk, rowsAtOnce } from '../../store/talk/live';

/** Beyond so many conversations the oldest are given up, and counted: a disk that stays full must not fill the memory too. */
const mostKept = 1_000_000;

/** What was counted and is not written yet. A write that fails leaves it here for the next. */
export class UnwrittenTalk {
  #waiting: { exporter: string; talks: Talk[] }[] = [];
  /** conversations that were given up */
  givenUp = 0;

  constructor(readonly most = mostKept) {}

  add(taken: readonly { exporter: string; talks: Talk[] }[]): void {
    this.#waiting.push(...taken);
    for (let kept = this.size; kept > this.most;) {
      const oldest = this.#waiting.shift();
      if (!oldest) break;
      kept -= oldest.talks.length;
      this.givenUp += oldest.talks.length;
    }
  }

  get size(): number {
    return this.#waiting.reduce((sum, { talks }) => sum + talks.length, 0);
  }

  /** Writes all there is, some at a time: what is written does not wait any more. @throws where it cannot be written */
  write(db: Db, at: Date): void {
    for (let [next] = this.#waiting; next; [next] = this.#waiting) {
      while (next.talks.length > 0) {
        // a lot that fails is not written in part: it waits as a whole
        mergeTalk(db, next.exporter, next.talks.slice(0, rowsAtOnce), at);
        next.talks.splice(0, rowsAtOnce);
      }
      this.#waiting.shift();
    }
  }
}
