import { scalePoint } from 'd3';

export interface Rung {
  release: string;
  count: number;
  before: number | null;
  published: string | null;
  status: string | null;
  targetOf: string[];
}

export interface Ladder {
  vendor: string;
  product: string;
  component: string;
  scheme: string | null;
  count: number;
  devices: number;
  spread: number;
  rungs: Rung[];
  older: number;
}

/** In pixels: a dash of a stack, and how far one stands above the other. */
export const [dashWidth, dashHeight, dashStep] = [18, 3, 5];
/** Dashes of a stack at most: beyond, each stands for several. */
export const mostDashes = 8;
export const [lineAt, ladderHeight] = [62, 100];
const letterWidth = 6.3;
const [least, most] = [64, 190];

export interface PlacedRung extends Rung {
  x: number;
  dashes: number;
  dashesBefore: number;
  /** whether its name has room beside its neighbours' */
  isNamed: boolean;
}

/** For how many parts one dash stands. */
export function eachDash({ rungs }: Pick<Ladder, 'rungs'>): number {
  const tallest = Math.max(1, ...rungs.flatMap(({ count, before }) => [count, before ?? 0]));
  return Math.ceil(tallest / mostDashes);
}

/**
 * Where the releases of a ladder stand: evenly, in their order. One dash is one part while the tallest stack has room for them, else so many; `each` tells how many.
 */
export function ladderPlaces(ladder: Pick<Ladder, 'rungs'>, width: number): { rungs: PlacedRung[]; each: number } {
  const { rungs } = ladder;
  const step = Math.min(most, Math.max(least, width / Math.max(1, rungs.length)));
  const total = Math.min(width, step * rungs.length);
  const x = scalePoint(
    rungs.map((_, at) => at),
    [0, total],
  ).padding(0.5);
  const each = eachDash({ rungs });
  const dashesOf = (count: number) => Math.ceil(count / each);
  let free = -Infinity;
  // names of what runs go before those of what only the catalogue knows
  const isWanted = ({ count, before, targetOf }: Rung) => count > 0 || (before ?? 0) > 0 || targetOf.length > 0;
  const crowded =
    total / Math.max(1, rungs.length) < letterWidth * Math.max(...rungs.map((one) => one.release.length), 1);
  return {
    each,
    rungs: rungs.map((rung, at) => {
      const place = x(at) ?? 0;
      const half = (letterWidth * rung.release.length) / 2;
      const isNamed = (!crowded || isWanted(rung)) && place - half > free;
      if (isNamed) free = place + half + 4;
      return {
        ...rung,
        x: place,
        dashes: dashesOf(rung.count),
        dashesBefore: dashesOf(rung.before ?? 0),
        isNamed,
      };
    }),
  };
}

/** Whether a release is one that its maker took back, or mends no more. */
export const isGone = (status: string | null): boolean => status === 'withdrawn' || status === 'ended';

/** What a release says, in a sentence. */
export function rungWords(
  { product, component }: Ladder,
  { release, count, before, published, status, targetOf }: Rung,
): string {
  const runs = count === 0 ? 'nothing runs it' : `${count} ${count === 1 ? 'runs' : 'run'} it`;
  const was = before === null || before === count ? '' : `, ${before} did before`;
  const since = published ? `, published ${published}` : '';
  const target =
    targetOf.length === 0
      ? ''
      : `, the target of ${targetOf.map((one) => (one === 'all' ? 'all' : `“${one}”`)).join(' and ')}`;
  const stands = isGone(status) ? `, ${status === 'withdrawn' ? 'withdrawn' : 'not mended any more'}` : '';
  return `${product} ${component} ${release}: ${runs}${was}${since}${stands}${target}`;
}
