/** What is worked out a step at a time, so that others are heard in between; its value is what it returns. */
export type Steps<Value> = Generator<void, Value>;

/** Takes all steps without a pause. */
export function atOnce<Value>(steps: Steps<Value>): Value {
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
  }
}

/** Rows that are gone through in one step. */
export const rowsInStep = 250_000;
