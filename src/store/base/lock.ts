import type { Store } from './db';
import { isLocked } from './storeFault';

type Raw = Store['raw'];

/** Does something without waiting for others who write. @returns null where one of them kept it out */
function atOnce<Result>(raw: Raw, work: () => Result): { result: Result } | null {
  const before = Number(raw.pragma('busy_timeout', { simple: true }));
  raw.pragma('busy_timeout = 0');
  try {
    return { result: work() };
  } catch (error) {
    if (!isLocked(error)) throw error;
    return null;
  } finally {
    raw.pragma(`busy_timeout = ${before}`);
  }
}

/** Writes what may as well be written the next time: a mark of when something was used last. */
export function writeIfFree(raw: Raw, work: () => void): void {
  atOnce(raw, work);
}

/** Whether a write would have to wait for nobody. */
const mayWriteNow = (raw: Raw): boolean =>
  atOnce(raw, () => {
    raw.exec('begin immediate');
    raw.exec('commit');
  }) !== null;

const lookAgainMs = 50;

/** Waits, without keeping anybody else waiting, until a write would wait for nobody. @returns whether that came in time */
export async function untilWritable(raw: Raw, atMostMs: number): Promise<boolean> {
  const until = Date.now() + atMostMs;
  while (!mayWriteNow(raw)) {
    if (Date.now() >= until) return false;
    await new Promise((resolve) => setTimeout(resolve, lookAgainMs));
  }
  return true;
}
