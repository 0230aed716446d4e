import { expandRanges, parseRange, rangeSize, type AddressRange } from '../values/addressRange';
import { AddressError, isPrivateAddress, parsePrefix, prefixContains } from '../values/ipAddress';
import { parseQuietHours } from './quietHours';
import { parseTranslation, type Translation } from '../values/translation';

/** What a survey asks, as a person writes it. */
export interface ScopeText {
  name: string;
  ranges: string[];
  exclusions: string[];
  translations: string[];
  /** names of credentials, in the order in which they are tried */
  credentials: string[];
  /** names of credentials by which ports of its devices may be acted on, in the order in which they are tried */
  writeCredentials: string[];
  port: number;
  /** of Redfish, RESTCONF and controllers */
  httpsPort: number;
  timeoutMs: number;
  retries: number;
  concurrency: number;
  /** how long one device may be waited for in all, in seconds */
  deviceSeconds: number;
  /** a prefix may not be larger than this, e.g. 16 for /16 */
  largestPrefix: number;
  /** how often neighbours' management addresses (LLDP) are followed beyond the ranges */
  neighbourSteps: number;
  /** ranges whose machines are touched once before address tables are read, so that quiet ones are in them */
  wakeRanges: string[];
  /** calendar by which it is surveyed, as `surveyCalendar.ts` keeps it: lines of minute, hour, day, month, weekday; empty for by hand only */
  schedule: string;
  /** hours in which no scheduled survey begins: `08:00-18:00` */
  quietHours: string[];
  /** whether devices are tried with the communities that equipment is delivered with */
  defaultCommunities: boolean;
  /** names of the collectors that ask it; this machine where there are none */
  collectors: string[];
  /** of the addresses in its ranges only those of devices in this group are asked; empty for all */
  group: string;
  /** certificates of authorities, PEM: with them a service must show one that they signed; without any the first one seen is pinned */
  authorities: string;
  /** prefixes within which neighbours are followed; private addresses where none is given */
  neighbourWithin: string[];
}

export const scopeDefaults: ScopeText = {
  name: '',
  ranges: [],
  exclusions: [],
  translations: [],
  credentials: [],
  writeCredentials: [],
  port: 161,
  httpsPort: 443,
  timeoutMs: 1000,
  retries: 1,
  concurrency: 64,
  deviceSeconds: 30,
  largestPrefix: 16,
  neighbourSteps: 0,
  neighbourWithin: [],
  defaultCommunities: false,
  wakeRanges: [],
  collectors: [],
  schedule: '',
  quietHours: [],
  group: '',
  authorities: '',
};

export interface Scope extends Omit<ScopeText, 'translations'> {
  addresses: string[];
  /** addresses that are touched, not asked */
  wake: string[];
  /** whether a neighbour's address may be followed */
  follows: (address: string) => boolean;
  translations: Translation[];
}

/** More than this is no scope but a search: a quarter of an hour of packets, and a list that fills the memory. */
const mostAddresses = 2 ** 20;

/** A mistake at a place of the form: `ranges[2]`. */
export interface FieldMistake {
  path: string;
  message: string;
}

/**
 * Checks a scope and expands it to addresses. Every mistake is named at its place; a scope with one mistake gives no addresses,
 * so that nothing is asked by half.
 */
export function readScope(written: ScopeText): { scope: Scope } | { mistakes: FieldMistake[] } {
  // scopes that were saved before a field was thought of have its default
  const text = { ...scopeDefaults, ...written };
  const mistakes: FieldMistake[] = [];
  const each = <T>(
    field: 'ranges' | 'exclusions' | 'translations' | 'neighbourWithin' | 'wakeRanges',
    parse: (line: string) => T,
  ): T[] =>
    text[field].flatMap((line, at) => {
      try {
        return [parse(line)];
      } catch (error) {
        if (!(error instanceof AddressError)) throw error;
        mistakes.push({ path: `${field}[${at}]`, message: error.message });
        return [];
      }
    });
  const ranges = each('ranges', (line) => withinLimit(line, text.largestPrefix));
  const exclusions = each('exclusions', parseRange);
  const translations = each('translations', parseTranslation);
  const within = each('neighbourWithin', parsePrefix);
  const wake = each('wakeRanges', (line) => withinLimit(line, text.largestPrefix));
  text.quietHours.forEach((line, at) => {
    if (!parseQuietHours(line))
      mistakes.push({ path: `quietHours[${at}]`, message: `“${line}” are no hours: write them like 08:00-18:00` });
  });
  if (text.authorities.trim() !== '' && !pemCertificates.test(text.authorities))
    mistakes.push({
      path: 'authorities',
      message: 'is no list of certificates in PEM: each begins with -----BEGIN CERTIFICATE-----',
    });
  if (text.ranges.length === 0)
    mistakes.push({ path: 'ranges', message: 'Give at least one range, prefix or address' });
  if (mistakes.length === 0) mistakes.push(...exclusionMistakes(ranges, exclusions));
  for (const [field, low, high] of [
    ['port', 1, 65535],
    ['httpsPort', 1, 65535],
    ['timeoutMs', 50, 60_000],
    ['retries', 0, 10],
    ['concurrency', 1, 2000],
    ['deviceSeconds', 1, 3600],
    ['largestPrefix', 8, 32],
    ['neighbourSteps', 0, 32],
  ] as const) {
    const value = text[field];
    if (!Number.isInteger(value) || value < low || value > high)
      mistakes.push({ path: field, message: `must be a whole number from ${low} to ${high}` });
  }
  const size = ranges.reduce((sum, range) => sum + rangeSize(range), 0);
  if (size > mostAddresses)
    mistakes.push({
      path: 'ranges',
      message: `hold ${size.toLocaleString('en')} addresses together; a scope may have ${mostAddresses.toLocaleString('en')}: make several of it`,
    });
  if (mistakes.length > 0) return { mistakes };
  const addresses = expandRanges(ranges, exclusions);
  if (addresses.length === 0)
    return { mistakes: [{ path: 'exclusions', message: 'The exclusions leave no address to ask' }] };
  const isExcluded = (address: string) => {
    const { first } = parseRange(address);
    return exclusions.some((exclusion) => exclusion.first <= first && first <= exclusion.last);
  };
  const follows = (address: string) =>
    !isExcluded(address) &&
    (within.length > 0 ? within.some((prefix) => prefixContains(prefix, address)) : isPrivateAddress(address));
  return {
    scope: { ...text, translations, addresses, follows, wake: wake.length > 0 ? expandRanges(wake, exclusions) : [] },
  };
}

const pemCertificates = /^\s*(-----BEGIN CERTIFICATE-----[A-Za-z0-9+/=\s]+-----END CERTIFICATE-----\s*)+$/;

function withinLimit(line: string, largestPrefix: number): AddressRange {
  if (line.includes('/')) {
    const { length, family } = parsePrefix(line);
    if (family === 4 && length < largestPrefix) {
      throw new AddressError(
        line,
        `is larger than /${largestPrefix}, the limit of this scope: split it, or raise the limit`,
      );
    }
  }
  const range = parseRange(line);
  if (rangeSize(range) > 2 ** (32 - largestPrefix))
    throw new AddressError(line, `holds more addresses than a /${largestPrefix}, the limit of this scope`);
  return range;
}

function exclusionMistakes(ranges: AddressRange[], exclusions: AddressRange[]): FieldMistake[] {
  return exclusions.flatMap((exclusion, at) => {
    const overlaps = (other: AddressRange) => exclusion.first <= other.last && other.first <= exclusion.last;
    const earlier = exclusions.slice(0, at).find(overlaps);
    if (earlier)
      return [
        {
          path: `exclusions[${at}]`,
          message: `“${exclusion.text}” overlaps the exclusion “${earlier.text}”: keep one of them`,
        },
      ];
    if (!ranges.some(overlaps))
      return [
        {
          path: `exclusions[${at}]`,
          message: `“${exclusion.text}” lies in none of the ranges, so it excludes nothing`,
        },
      ];
    return [];
  });
}
