import pLimit from 'p-limit';
import { Problem } from './problem';

/** Passwords are costly to hash on purpose: so many at a time, and no more waiting than can be answered. */
const turns = pLimit(2);
const mostWaiting = 60;

/** @throws Problem where too many wait */
export function inTurn<Result>(work: () => Promise<Result>): Promise<Result> {
  if (turns.pendingCount >= mostWaiting)
    throw new Problem(503, 'Too busy', 'Too many try to sign in at once. Try again in a moment.', [], {
      'retry-after': '5',
    });
  return turns(work);
}
