import { truthUnit } from '../mib/sensor';

/** A reading as people read it: `21.5 °C`; `yes` or `no` where it is a truth value, of which 1 is true. */
export const readingWords = (value: number, unit: string): string =>
  unit === truthUnit ? (value === 1 ? 'yes' : 'no') : `${value.toLocaleString('en')} ${unit}`.trimEnd();
