import type { Column } from './column';
import { Dictionary } from './dictionary';

const unknown = 0xffff_ffff;

/** What follows from the values of a dictionary, each worked out once, when a row first has it. */
export class DerivedValues {
  readonly #made = new Dictionary();
  #codes = new Uint32Array(0);

  /** @param from what follows from the value with a number */
  constructor(
    readonly source: Dictionary,
    readonly from: (value: unknown, code: number) => unknown,
  ) {}

  /** The column that follows from a column of the same dictionary. */
  column({ codes }: Column): Column {
    if (this.#codes.length < this.source.size) {
      const wider = new Uint32Array(this.source.size).fill(unknown);
      wider.set(this.#codes);
      this.#codes = wider;
    }
    const made = this.#codes;
    return {
      dictionary: this.#made,
      codes: codes.map((code) => {
        if (made[code] === unknown) made[code] = this.#made.codeOf(this.from(this.source.values[code], code));
        return made[code] ?? 0;
      }),
    };
  }
}
