import type { ReleaseOrder } from '../scheme';
import { naturalOrder } from '../scheme';
import type { ComponentKind } from '../components';

/** How bad it is, as its publisher says, or as CVSS names its scores. */
export const severities = ['critical', 'high', 'medium', 'low', 'not rated'] as const;
export type Severity = (typeof severities)[number];

/** Releases from one to another; what is null is not bounded. */
export interface ReleaseRange {
  /** the first that is affected, or the one after which it begins */
  from: string | null;
  after: string | null;
  /** the first that is not affected any more, or the last that is */
  before: string | null;
  upTo: string | null;
}

/** Which releases of a product are affected, and which are not any more. */
export interface AffectedProduct {
  /** empty where nobody said */
  vendor: string;
  /** the family that its publisher puts the product in; empty where nobody said */
  family: string;
  /** a family, a model, or either with the part it is of: `K-Access`, `Brannick R BIOS` */
  product: string;
  ranges: ReleaseRange[];
  /** releases one by one */
  releases: string[];
  /** releases in which it is mended */
  fixed: string[];
}

/** What a maker says is wrong with its releases. */
export interface Advisory {
  /** as its publisher numbers it */
  number: string;
  publisher: string;
  title: string;
  /** days, ISO */
  published: string;
  updated: string;
  severity: Severity;
  /** CVSS base score, where there is one */
  score: number | null;
  summary: string;
  /** other numbers of the same, as CVE has them */
  others: string[];
  /** what to do, as its publisher says */
  remedy: string;
  format: 'CSAF 2.0' | 'OSV';
  affects: AffectedProduct[];
}

/** By which an advisory is known. */
export const advisoryKey = ({ publisher, number }: Pick<Advisory, 'publisher' | 'number'>): string =>
  `${publisher}\t${number}`;

/** The severity that goes with a CVSS base score, 0 to 10. */
export function severityOf(score: number | null): Severity {
  if (score === null || score <= 0) return 'not rated';
  return score >= 9 ? 'critical' : score >= 7 ? 'high' : score >= 4 ? 'medium' : 'low';
}

/** Something with a release, as advisories may name it. */
export interface NamedPart {
  vendor: string;
  /** of its device, or of itself where it is a part with a model of its own */
  family: string;
  model: string;
  component: ComponentKind;
}

const plain = (text: string): string => text.trim().toLowerCase().replace(/\s+/g, ' ');

/** The names under which an advisory may mean something: `k-access`, `kestrane k-access`, `brannick r bios`. */
export function namesOf({ vendor, family, model, component }: NamedPart): string[] {
  const names = [family, model].filter(Boolean).map(plain);
  const isNamedAlone = component === 'system' || !ofWhole.has(component);
  return names.flatMap((name) => {
    const whole = [...(isNamedAlone ? [name] : []), `${name} ${plain(component)}`];
    const maker = plain(vendor);
    return maker === '' || name.startsWith(`${maker} `) ? whole : [...whole, ...whole.map((one) => `${maker} ${one}`)];
  });
}

/** Parts that are named by their device: their name alone would be the device's. */
const ofWhole: ReadonlySet<ComponentKind> = new Set(['boot code', 'management controller', 'BIOS']);

/** The names by which a product may be meant, as `namesOf` writes them. */
export const productNames = ({ family, product }: Pick<AffectedProduct, 'family' | 'product'>): string[] => [
  plain(product),
  ...(family === '' || plain(family) === plain(product) ? [] : [plain(`${family} ${product}`)]),
];

export const isOfVendor = ({ vendor }: Pick<AffectedProduct, 'vendor'>, own: string): boolean =>
  vendor === '' || plain(vendor) === plain(own);

/** Whether a release is one of those that are affected. What is named as mended is not, whatever else is said. */
export function isAffected(
  { ranges, releases, fixed }: AffectedProduct,
  release: string,
  { compare }: Pick<ReleaseOrder, 'compare'> = naturalOrder,
): boolean {
  if (release === '' || fixed.some((one) => compare(release, one) === 0)) return false;
  if (releases.some((one) => compare(release, one) === 0)) return true;
  return ranges.some(
    ({ from, after, before, upTo }) =>
      (from === null || compare(release, from) >= 0) &&
      (after === null || compare(release, after) > 0) &&
      (before === null || compare(release, before) < 0) &&
      (upTo === null || compare(release, upTo) <= 0),
  );
}

/** The lowest release, not below the one that runs, in which it is mended; null where none is known. */
export function mendedIn(
  { ranges, fixed }: AffectedProduct,
  release: string,
  { compare }: Pick<ReleaseOrder, 'compare'> = naturalOrder,
): string | null {
  const ends = ranges.flatMap(({ before }) => (before === null ? [] : [before]));
  return (
    [...new Set([...fixed, ...ends])].filter((one) => compare(one, release) > 0).sort((x, y) => compare(x, y))[0] ??
    null
  );
}

/** Ranges and releases in words: `from 7.2.30 and before 7.4.12b`. */
export function affectedWords({ ranges, releases }: Pick<AffectedProduct, 'ranges' | 'releases'>): string {
  const ofRanges = ranges.map(({ from, after, before, upTo }) => {
    const words = [
      from !== null && `from ${from}`,
      after !== null && `after ${after}`,
      before !== null && `before ${before}`,
      upTo !== null && `up to ${upTo}`,
    ].filter(Boolean);
    return words.length > 0 ? words.join(' and ') : 'all releases';
  });
  return [...ofRanges, ...releases].join(', ') || 'no releases';
}
