import { fieldsOf, releaseForm, stages, type FormField, type ReleaseForm } from './schemeForm';

/** How the releases of a family are written and put in order, as data. */
export interface ReleaseScheme {
  id: string;
  /** in words */
  name: string;
  /** as `releaseForm` reads it */
  form: string;
  /** fields that make a train: releases that only mend each other */
  train: string[];
  /** all fields, the heaviest first; as they are written where it is not given */
  weight?: string[];
  /** releases in their order, the oldest first */
  examples: string[];
}

/** How one release stands to another. */
export type Relation = 'same release' | 'same train' | 'newer train' | 'older train' | 'no train';

/** One step of an order: what comes before a release, nothing any more, letters, numbers. */
type Token = readonly [rank: 0 | 1 | 2 | 3, value: string];
const [beforeRelease, nothing, lettered, numbered] = [0, 1, 2, 3] as const;
const none: Token = [nothing, ''];

const fewest = (digits: string): string => digits.replace(/^0+(?=\d)/, '');
const stageToken = (stage: string): Token => [beforeRelease, String(stages.indexOf(stage))];

/** As texts stand: numbers as numbers, letters as letters. */
const naturalKey = (release: string): Token[] =>
  (release.toLowerCase().match(/\d+|[a-z]+/g) ?? []).map((part): Token => {
    if (/^\d/.test(part)) return [numbered, fewest(part)];
    return stages.includes(part) ? stageToken(part) : [lettered, part];
  });

const tokenOf = ({ kind }: FormField, value: string): Token =>
  kind === 'number' ? [numbered, fewest(value)] : kind === 'stage' ? stageToken(value) : [lettered, value];

function compareTokens([rank, value]: Token, [otherRank, other]: Token): number {
  if (rank !== otherRank) return rank - otherRank;
  // a number with more digits is the larger one
  if (rank === numbered && value.length !== other.length) return value.length - other.length;
  return value < other ? -1 : value > other ? 1 : 0;
}

function compareKeys(one: readonly Token[], other: readonly Token[]): number {
  for (let at = 0; at < Math.max(one.length, other.length); at++) {
    const order = compareTokens(one[at] ?? none, other[at] ?? none);
    if (order !== 0) return order;
  }
  return 0;
}

/**
 * The order of the releases of a family. What is not written as the scheme says has a key too, by its numbers and letters as they stand: keys of one alphabet compare from the left, so that the order is total whatever is written.
 */
export class ReleaseOrder {
  readonly #form: ReleaseForm | null;
  readonly #weight: readonly FormField[];
  readonly #train: readonly FormField[];
  readonly #keys = new Map<string, { all: Token[]; train: Token[] | null }>();

  /** @param scheme null for the natural order @throws FormError, RangeError where a field of the scheme is not in its form */
  constructor(readonly scheme: ReleaseScheme | null) {
    this.#form = scheme && releaseForm(scheme.form);
    const fields = this.#form?.fields ?? [];
    const named = (names: readonly string[], of: string) =>
      names.map((name) => {
        const field = fields.find((one) => one.name === name);
        if (!field) throw new RangeError(`“${name}” of the ${of} is no field of ${scheme?.form ?? ''}`);
        return field;
      });
    const weight = scheme?.weight ? named(scheme.weight, 'weight') : fields;
    const missing = fields.find((field) => !weight.includes(field));
    if (missing) throw new RangeError(`“${missing.name}” has no weight`);
    this.#weight = weight;
    this.#train = scheme ? named(scheme.train, 'train') : [];
  }

  /** Whether a release is written as the scheme says. */
  fits(release: string): boolean {
    return this.#keysOf(release).train !== null;
  }

  /** Below 0 where the first is the earlier, above where it is the later, 0 where both are one. */
  compare = (one: string, other: string): number => compareKeys(this.#keysOf(one).all, this.#keysOf(other).all);

  /** How a release stands to another: whether it is only a mended one, or of another train. */
  relation(one: string, to: string): Relation {
    const [own, other] = [this.#keysOf(one), this.#keysOf(to)];
    if (compareKeys(own.all, other.all) === 0) return 'same release';
    if (!own.train || !other.train || own.train.length === 0) return 'no train';
    const order = compareKeys(own.train, other.train);
    return order === 0 ? 'same train' : order > 0 ? 'newer train' : 'older train';
  }

  #keysOf(release: string): { all: Token[]; train: Token[] | null } {
    let keys = this.#keys.get(release);
    if (!keys) this.#keys.set(release, (keys = this.#makeKeys(release)));
    return keys;
  }

  #makeKeys(release: string): { all: Token[]; train: Token[] | null } {
    const found = this.#form && fieldsOf(this.#form, release);
    if (!found) return { all: naturalKey(release), train: null };
    const token = (field: FormField): Token => {
      const value = found.get(field.name) ?? field.absent;
      return value === null ? none : tokenOf(field, value);
    };
    return { all: this.#weight.map(token), train: this.#train.map(token) };
  }
}

/** The order of numbers and letters as they stand. */
export const naturalOrder = new ReleaseOrder(null);

/**
 * The first scheme as which all of some releases are written; the natural order where none is, or nothing is known.
 * @param first the id of the scheme that is tried before others
 */
export function orderFor(
  releases: readonly string[],
  orders: readonly ReleaseOrder[],
  first: string | null = null,
): ReleaseOrder {
  const known = releases.filter((release) => release !== '');
  if (known.length === 0) return naturalOrder;
  const fits = (order: ReleaseOrder) => known.every((release) => order.fits(release));
  return orders.find((order) => order.scheme?.id === first && fits(order)) ?? orders.find(fits) ?? naturalOrder;
}
