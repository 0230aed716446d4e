/**
 * Fewest letters to insert, delete, change or swap with their neighbour to make one text of another: optimal string alignment, by dynamic programming over two texts
 * (Wagner and Fischer 1974, with transposition as Damerau 1964). Gives up beyond a limit. O(length²).
 * @returns the distance, or a number above `most`
 */
export function editDistance(left: string, right: string, most: number): number {
  if (Math.abs(left.length - right.length) > most) return most + 1;
  let beforeLast: number[] = [];
  let last = Array.from({ length: right.length + 1 }, (_, at) => at);
  for (let row = 1; row <= left.length; row++) {
    const now = [row];
    let least = row;
    for (let column = 1; column <= right.length; column++) {
      const same = left[row - 1] === right[column - 1];
      let cost = Math.min(
        (last[column] ?? 0) + 1,
        (now[column - 1] ?? 0) + 1,
        (last[column - 1] ?? 0) + (same ? 0 : 1),
      );
      if (row > 1 && column > 1 && left[row - 1] === right[column - 2] && left[row - 2] === right[column - 1])
        cost = Math.min(cost, (beforeLast[column - 2] ?? 0) + 1);
      now.push(cost);
      least = Math.min(least, cost);
    }
    if (least > most) return most + 1;
    beforeLast = last;
    last = now;
  }
  return last[right.length] ?? most + 1;
}
