import type { StockCount, StockNumber, TalkRows } from './talkStock';

/** Conversations that were heard by some moment: rows of a stock. What is asked of them is picked out when it is asked for, so that a moment of the past costs no more than what is looked at. */
export class TalkUntil implements TalkRows {
  readonly size: number;
  /** runs of rows of the stock that follow each other, rising: where each begins there, and here; at the end one of none */
  readonly #there: Uint32Array;
  readonly #here: Uint32Array;
  readonly #columns = new Map<StockNumber, Uint32Array>();
  readonly #counts = new Map<StockCount, Float64Array>();
  #numbers: Uint32Array | null = null;

  /** @param seconds since the epoch */
  constructor(
    readonly stock: TalkRows,
    seconds: number,
  ) {
    const firsts = stock.count('firstSeen');
    const [there, here]: [number[], number[]] = [[], []];
    let size = 0;
    let isIn = false;
    for (let row = 0; row < firsts.length; row++) {
      if ((firsts[row] ?? 0) > seconds) isIn = false;
      else {
        if (!isIn) {
          there.push(row);
          here.push(size);
          isIn = true;
        }
        size++;
      }
    }
    here.push(size);
    this.size = size;
    this.#there = Uint32Array.from(there);
    this.#here = Uint32Array.from(here);
  }

  get pointSets(): readonly (readonly string[])[] {
    return this.stock.pointSets;
  }

  column(field: StockNumber): Uint32Array {
    let known = this.#columns.get(field);
    if (!known) this.#columns.set(field, (known = this.#picked(this.stock.column(field), new Uint32Array(this.size))));
    return known;
  }

  count(field: StockCount): Float64Array {
    let known = this.#counts.get(field);
    if (!known) this.#counts.set(field, (known = this.#picked(this.stock.count(field), new Float64Array(this.size))));
    return known;
  }

  at(field: StockNumber | StockCount, row: number): number {
    const run = lastUpTo(this.#here, row);
    return this.stock.at(field, (this.#there[run] ?? 0) + row - (this.#here[run] ?? 0));
  }

  conversations(): Uint32Array {
    return (this.#numbers ??= this.#picked(this.stock.conversations(), new Uint32Array(this.size)));
  }

  rowOf(conversation: number): number {
    const wanted = this.stock.rowOf(conversation);
    if (wanted < 0) return -1;
    const run = lastUpTo(this.#there, wanted);
    if (run < 0) return -1;
    const row = (this.#here[run] ?? 0) + wanted - (this.#there[run] ?? 0);
    return row < (this.#here[run + 1] ?? 0) ? row : -1;
  }

  /** By row of the stock, of so many: the row it is here, one too high; 0 where it was not heard yet. */
  places(size: number): Uint32Array {
    const places = new Uint32Array(size);
    for (let run = 0; run < this.#there.length; run++) {
      const from = this.#there[run] ?? 0;
      const [first, end] = [this.#here[run] ?? 0, this.#here[run + 1] ?? 0];
      for (let at = first; at < end; at++) places[from + at - first] = at + 1;
    }
    return places;
  }

  #picked<Kept extends Uint32Array | Float64Array>(all: Kept, found: Kept): Kept {
    const [there, here] = [this.#there, this.#here];
    for (let run = 0; run < there.length; run++) {
      const [from, at] = [there[run] ?? 0, here[run] ?? 0];
      const length = (here[run + 1] ?? 0) - at;
      if (length > shortRun) found.set(all.subarray(from, from + length), at);
      else for (let nth = 0; nth < length; nth++) found[at + nth] = all[from + nth] ?? 0;
    }
    return found;
  }
}

/** Runs up to here are quicker copied one by one. */
const shortRun = 32;

/** The last place whose number is no higher than one, of numbers that rise; -1 for none. */
function lastUpTo(numbers: Uint32Array, wanted: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((numbers[middle] ?? 0) <= wanted) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
