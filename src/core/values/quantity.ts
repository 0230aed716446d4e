/** Quantities as people write them: `1G`, `512M`, `30d`. */

const decimal: Record<string, number> = { k: 1e3, m: 1e6, g: 1e9, t: 1e12 };
const binary: Record<string, number> = { k: 1024, m: 1024 ** 2, g: 1024 ** 3, t: 1024 ** 4 };
const durations: Record<string, number> = { s: 1, min: 60, h: 3600, d: 86_400, w: 604_800, y: 31_557_600 };
/** Units as people write them out. */
const writtenOut: Record<string, string> = {
  byte: 'b',
  kilobyte: 'kb',
  megabyte: 'mb',
  gigabyte: 'gb',
  terabyte: 'tb',
  sec: 's',
  second: 's',
  minute: 'min',
  hour: 'h',
  day: 'd',
  week: 'w',
  year: 'y',
};
const short = (unit: string): string => writtenOut[unit.replace(/(?<=..)s$/, '')] ?? unit;

/** Every unit there is, in lower case: what may stand behind a number. */
export const unitWords: ReadonlySet<string> = new Set([
  ...Object.keys(durations),
  ...Object.keys(writtenOut).flatMap((word) => [word, `${word}s`]),
  'b',
  'bit/s',
  'bps',
  ...['k', 'm', 'g', 't'].flatMap((step) => [
    step,
    ...['b', 'ib', 'bit', 'bit/s', 'bps', 'b/s'].map((unit) => step + unit),
  ]),
]);

export type QuantityKind = 'number' | 'bytes' | 'bitsPerSecond' | 'seconds';

/** A number in base units (bytes, bit/s, seconds) or null if the text does not fit the kind. */
export function parseQuantity(text: string, kind: QuantityKind): number | null {
  const match = /^(-?\d+(?:\.\d+)?)\s*([a-z]*)(?:\/s)?$/i.exec(text.trim());
  if (!match) return null;
  const value = Number(match[1]);
  const unit = short((match[2] ?? '').toLowerCase());
  if (unit === '') return value;
  if (kind === 'seconds') {
    const factor = durations[unit];
    return factor === undefined ? null : value * factor;
  }
  if (kind === 'bytes') {
    const factor = binary[unit.replace(/i?b$/, '')];
    return factor === undefined ? (unit === 'b' ? value : null) : value * factor;
  }
  if (kind === 'bitsPerSecond' && /^(bit|bps|b)$/.test(unit)) return value;
  const factor = decimal[unit.replace(/(bit|bps|b)$/, '')];
  return factor === undefined ? null : value * factor;
}

/** `1G`, `2.5G`, `100M`: an interface speed in bit/s. */
export function formatSpeed(speedBps: number): string {
  for (const [letter, factor] of [
    ['T', 1e12],
    ['G', 1e9],
    ['M', 1e6],
    ['k', 1e3],
  ] as const) {
    if (speedBps >= factor) return `${trim(speedBps / factor)}${letter}`;
  }
  return `${speedBps} bit/s`;
}

/** `4 GB`, `512 MB`: memory and storage in binary steps, with the letters people use for them. */
export function formatBytes(bytes: number): string {
  for (const [letter, factor] of [
    ['TB', binary.t],
    ['GB', binary.g],
    ['MB', binary.m],
    ['kB', binary.k],
  ] as const) {
    if (factor !== undefined && bytes >= factor) return `${trim(bytes / factor)} ${letter}`;
  }
  return `${bytes} B`;
}

/** An age in one unit: `40 s`, `5 min`, `3 h`, `12 d`, `7 w`, `2 y`. */
export function formatAge(seconds: number): string {
  const value = Math.max(0, seconds);
  if (value < 60) return `${Math.floor(value)} s`;
  if (value < 3600) return `${Math.floor(value / 60)} min`;
  if (value < 86_400) return `${Math.floor(value / 3600)} h`;
  if (value < 86_400 * 90) return `${Math.floor(value / 86_400)} d`;
  if (value < 86_400 * 730) return `${Math.floor(value / 604_800)} w`;
  return `${Math.floor(value / 31_557_600)} y`;
}

function trim(value: number): string {
  return value >= 100 ? String(Math.round(value)) : String(Number(value.toFixed(value >= 10 ? 1 : 2)));
}

/** A part of a whole in per cent, `36 %`; of small ones one more figure, so that nothing that is there reads as nothing, and all only where it is all. */
export function formatShare(part: number, whole: number): string {
  if (whole <= 0 || part <= 0) return '0 %';
  const percent = (100 * part) / whole;
  if (part >= whole) return '100 %';
  if (percent < 0.1) return '< 0.1 %';
  if (percent > 99.9) return '> 99.9 %';
  return percent < 9.95 || percent > 99 ? `${percent.toFixed(1).replace(/\.0$/, '')} %` : `${Math.round(percent)} %`;
}
