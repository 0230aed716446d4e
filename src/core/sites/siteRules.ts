import type { FieldMistake } from '../estate/scope';
import { AddressError, parsePrefix, prefixContains, type Prefix } from '../values/ipAddress';
import { siteForm, sitePattern } from './sitePattern';

export const siteRuleKinds = ['name', 'location', 'prefix'] as const;

/**
 * How it is told where a device stands. Of names and locations a pattern in which `*` stands for anything and `{site}` for the
 * letters and digits that are the site (`{site 2-4}`: two to four of them); of addresses a prefix. Where the pattern has no
 * `{site}`, the site is named beside it.
 */
export interface SiteRule {
  of: (typeof siteRuleKinds)[number];
  pattern: string;
  /** empty where the pattern has it */
  site: string;
}

/** What of a device its site is told by. */
export interface SitedDevice {
  name: string;
  location: string;
  /** the one it is asked at */
  address: string;
}

type Compiled = (device: SitedDevice) => string | null;

const mostStars = 4;
const longestPattern = 120;

/** Rules made ready to be asked: the site of a device and which rule told it, the first that fits; null where none does. */
export function siteTeller(rules: readonly SiteRule[]): (device: SitedDevice) => { site: string; rule: number } | null {
  const compiled = rules.map(compile);
  return (device) => {
    for (const [rule, tell] of compiled.entries()) {
      const site = tell(device);
      if (site) return { site, rule };
    }
    return null;
  };
}

function compile({ of, pattern, site }: SiteRule): Compiled {
  if (of === 'prefix') {
    const prefix = prefixOrNull(pattern);
    return ({ address }) => (prefix && address && prefixContains(prefix, address) ? site : null);
  }
  const fits = sitePattern(pattern, of === 'location');
  return (device) => {
    const found = fits(device[of]);
    return found === null ? null : site || found.toUpperCase() || null;
  };
}

/** A prefix as it is written; null where it is none. */
function prefixOrNull(text: string): Prefix | null {
  try {
    return parsePrefix(text);
  } catch (error) {
    if (error instanceof AddressError) return null;
    throw error;
  }
}

/** Why a text is no prefix, in words; null where it is one. */
export function prefixMistake(text: string): string | null {
  try {
    parsePrefix(text);
    return null;
  } catch (error) {
    if (error instanceof AddressError) return error.message;
    throw error;
  }
}

/** What is wrong with rules, each at its place: `rules[0].pattern`. */
export function siteRuleMistakes(rules: readonly SiteRule[]): FieldMistake[] {
  return rules.flatMap(({ of, pattern, site }, at) => {
    const mistake = (field: string, message: string) => [{ path: `rules[${at}].${field}`, message }];
    if (pattern === '')
      return mistake('pattern', of === 'prefix' ? 'Give a prefix, like 10.72.4.0/24' : 'Give a pattern');
    if (of === 'prefix') {
      const wrong = prefixMistake(pattern);
      if (wrong !== null) return mistake('pattern', wrong);
      return site === '' ? mistake('site', 'Say which site it is') : [];
    }
    if (pattern.length > longestPattern) return mistake('pattern', `A pattern has at most ${longestPattern} letters`);
    const slots = [...pattern.matchAll(siteForm)];
    const rest = pattern.replace(siteForm, '');
    if (/[{}]/.test(rest)) return mistake('pattern', 'In braces stands {site}, or {site 2-4}, and nothing else');
    if (slots.length > 1) return mistake('pattern', '{site} may stand there once');
    if ((rest.match(/\*+/g) ?? []).length > mostStars) return mistake('pattern', `At most ${mostStars} times *`);
    const [, least = '1', most = '20'] = slots[0] ?? [];
    if (Number(least) < 1 || Number(most) < Number(least) || Number(most) > 20) {
      return mistake('pattern', 'A site has 1 to 20 letters, the least first');
    }
    if (slots.length === 0 && site === '') return mistake('site', 'Name the site, or put {site} into the pattern');
    if (slots.length > 0 && site !== '') return mistake('site', 'The pattern has it: leave this empty');
    return [];
  });
}
