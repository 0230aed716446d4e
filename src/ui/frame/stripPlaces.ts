/** The least between two ticks, pixels: each can be pointed at. */
const leastGap = 9;

/**
 * Where ticks stand on an axis: at their true places, and those that would share a pixel beside each other, opened up around where they belong.
 * @param trueAt places by time, ascending @param from the first place there is @param to the last
 */
export function openedUp(trueAt: readonly number[], from: number, to: number): number[] {
  const gap = Math.min(leastGap, trueAt.length > 1 ? (to - from) / (trueAt.length - 1) : leastGap);
  // runs that would overlap are put together, each around the middle of its own places
  const runs: { first: number; count: number; middle: number }[] = [];
  const startOf = ({ middle, count }: { middle: number; count: number }) => {
    const half = ((count - 1) * gap) / 2;
    return Math.max(from, Math.min(to - 2 * half, middle - half));
  };
  trueAt.forEach((place, at) => {
    runs.push({ first: at, count: 1, middle: place });
    for (;;) {
      const [before, last] = runs.slice(-2);
      if (!before || !last || runs.length < 2) break;
      if (startOf(last) - (startOf(before) + (before.count - 1) * gap) >= gap - 1e-9) break;
      const count = before.count + last.count;
      const middle = (before.middle * before.count + last.middle * last.count) / count;
      runs.splice(-2, 2, { first: before.first, count, middle });
    }
  });
  return runs.flatMap((run) => Array.from({ length: run.count }, (_, at) => startOf(run) + at * gap));
}
