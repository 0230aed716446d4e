import { daysBetween, dayAfter } from '../values/day';
import { serialKey, type Contract } from './contract';

/** How a serial stands on a day: covered; ending within 30 days with nothing after it; ended; coming, where the first contract has not begun; none, where no contract names it. */
export const coverStates = ['covered', 'ending', 'ended', 'coming', 'none'] as const;
export type CoverState = (typeof coverStates)[number];

/** From so many days before its end, cover is ending. */
export const endingDays = 30;

export interface Cover {
  state: CoverState;
  /** last day without a gap; of ended cover the last there was, of coming cover that of the first to come. Null where it does not end, or there is none. */
  until: string | null;
  /** contracts that name it, those in force first */
  by: Contract[];
}

const noCover: Cover = { state: 'none', until: null, by: [] };
const begun = ({ from }: Contract, day: string) => from === null || from <= day;
const over = ({ until }: Contract, day: string) => until !== null && until < day;
const later = (x: string | null, y: string | null) => (x === null || y === null ? null : x > y ? x : y);

/** How what all these contracts name stands on a day. Contracts that follow each other without a gap are one cover. */
export function coverBy(contracts: readonly Contract[], day: string): Cover {
  const [first] = contracts;
  if (!first) return noCover;
  const inForce = contracts.filter((contract) => begun(contract, day) && !over(contract, day));
  const by = [...inForce, ...contracts.filter((contract) => !inForce.includes(contract))];
  if (inForce.length === 0) {
    const coming = contracts
      .filter((contract) => !begun(contract, day))
      .sort((x, y) => String(x.from).localeCompare(String(y.from)));
    if (coming[0] && coming.length === contracts.length) return { state: 'coming', until: coming[0].until, by };
    return {
      state: 'ended',
      until: contracts
        .filter((contract) => over(contract, day))
        .map(({ until }) => until)
        .reduce((x, y) => later(x, y)),
      by,
    };
  }
  let until = inForce.map((contract) => contract.until).reduce(later);
  for (const next of contracts
    .filter((contract) => !begun(contract, day))
    .sort((x, y) => String(x.from).localeCompare(String(y.from)))) {
    if (until === null || next.from === null || next.from > dayAfter(until, 1)) break;
    until = later(until, next.until);
  }
  return { state: until !== null && daysBetween(day, until) <= endingDays ? 'ending' : 'covered', until, by };
}

/** From the state that needs somebody most to the one that needs nobody. */
const worst: readonly CoverState[] = ['ended', 'none', 'coming', 'ending', 'covered'];

/** Of several units the cover that makes the device’s: it is covered as its worst unit is. */
export function worstCover(covers: readonly Cover[]): Cover {
  const [first, ...others] = covers;
  if (!first) return noCover;
  return others.reduce((x, y) => {
    const order =
      worst.indexOf(x.state) - worst.indexOf(y.state) || (x.until ?? '9999').localeCompare(y.until ?? '9999');
    return order <= 0 ? x : y;
  }, first);
}

/** Who covers which serial, on a day. */
export class CoverIndex {
  readonly #contracts = new Map<string, Contract[]>();
  readonly #covers = new Map<string, Cover>();
  readonly #ofHeld = new Map<string, Cover>();

  constructor(
    readonly contracts: readonly Contract[],
    readonly day: string,
  ) {
    for (const contract of contracts) {
      for (const serial of contract.serials) {
        const key = serialKey(serial);
        const known = this.#contracts.get(key);
        if (known) known.push(contract);
        else this.#contracts.set(key, [contract]);
      }
    }
  }

  /** What names a serial itself; none where nothing does. */
  ofSerial(serial: string): Cover {
    const key = serialKey(serial);
    const contracts = this.#contracts.get(key);
    if (!contracts) return noCover;
    let cover = this.#covers.get(key);
    if (!cover) this.#covers.set(key, (cover = coverBy(contracts, this.day)));
    return cover;
  }

  /**
   * Cover of a part: by what names its own serial, or else by what names a chassis that holds it and counts what that holds.
   * @param holders serials of the chassis it is in, the nearest first
   */
  ofPart(serial: string, holders: Iterable<string>): Cover {
    const own = this.ofSerial(serial);
    if (own.by.length > 0) return own;
    for (const holder of holders) {
      const held = this.#coverOfHeld(serialKey(holder));
      if (held.by.length > 0) return held;
    }
    return noCover;
  }

  /** What a chassis with a serial gives to what it holds. */
  #coverOfHeld(key: string): Cover {
    let cover = this.#ofHeld.get(key);
    if (!cover)
      this.#ofHeld.set(
        key,
        (cover = coverBy(
          (this.#contracts.get(key) ?? []).filter(({ parts }) => parts),
          this.day,
        )),
      );
    return cover;
  }
}
