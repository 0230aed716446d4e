import type { Steps } from '../../../core/steps';

/** Whether an answer is worked out a step at a time. */
export const areSteps = (answer: unknown): answer is Steps<unknown> =>
  typeof answer === 'object' &&
  answer !== null &&
  Symbol.iterator in answer &&
  typeof (answer as { next?: unknown }).next === 'function';
