import { TextIndex } from '../../core/find/textIndex';
import { foundThings, things, type ThingName } from '../../core/things/things';
import { digitsOf } from '../../core/values/mac';
import type { ThingRow } from './rows/rowBuilder';
import type { ThingTable } from './tables/thingTable';

const atOnce = 20_000;

export interface FoundThing {
  thing: ThingName;
  /** what it was found by */
  by: string;
  /** 4 and more where letters were wrong */
  rank: number;
  row: ThingRow;
}

/** Finds anything of an estate at a survey by a scrap of its name, address, MAC or serial. */
export class Finder {
  readonly #index = new TextIndex();
  readonly #sources: { thing: ThingName; table: ThingTable; first: number }[] = [];

  /** Takes in all things, some thousand at a step. */
  *build(tableOf: (thing: ThingName) => ThingTable): Generator<void> {
    let first = 0;
    for (const thing of foundThings) {
      const fields = things[thing].foundBy ?? [];
      yield;
      const table = tableOf(thing);
      this.#sources.push({ thing, table, first });
      // what an inventoried device owns is found as that device
      const own = thing === 'endpoints' ? table.column('ownDeviceId') : null;
      for (const { field, loosely = false, once = false, write = String } of fields) {
        const { dictionary, codes } = table.column(field);
        const isTaken = once ? new Uint8Array(dictionary.size) : null;
        for (let row = 0; row < table.size; row++) {
          if (row % atOnce === atOnce - 1) yield;
          const code = codes[row] ?? 0;
          if (isTaken?.[code]) continue;
          if (isTaken) isTaken[code] = 1;
          const value = dictionary.values[code];
          if (
            value === null ||
            value === '' ||
            (own && field === 'host' && own.dictionary.values[own.codes[row] ?? 0] !== 0)
          )
            continue;
          for (const one of Array.isArray(value) ? (value as unknown[]) : [value])
            this.#index.add({ text: write(one), entry: first + row, loosely });
        }
      }
      first += table.size;
    }
  }

  find(wanted: string, most: number): FoundThing[] {
    return this.#index.find(wanted, most, macScrap(wanted)).flatMap(({ entry, text, rank }) => {
      const source = this.#sources.findLast(({ first }) => first <= entry);
      const row = source?.table.rows([entry - source.first])[0];
      return source && row ? [{ thing: source.thing, by: text, rank, row }] : [];
    });
  }
}

/** A MAC, or the beginning of one, without its separators, in whatever notation it is written. */
function macScrap(wanted: string): string[] {
  const text = wanted.trim();
  return /^[0-9a-f]{1,4}([:.\- ]?[0-9a-f]{1,4})*[:.\- ]?$/i.test(text) &&
    /[:.\- ]/.test(text) &&
    digitsOf(text).length >= 4
    ? [digitsOf(text)]
    : [];
}
