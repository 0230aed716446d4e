import type { FileMistake } from '../values/fileMistake';
import { prefixMistake, type SiteRule } from './siteRules';

export interface PrefixPlan {
  /** prefixes the file names */
  named: number;
  /** those that are new, or become of another site */
  changes: { prefix: string; before: string | null; after: string }[];
  /** all rules as they become: a prefix that is there keeps its place, new ones stand before all others, the longest first */
  rules: SiteRule[];
  passedOver: string[];
  mistakes: FileMistake[];
}

const mostMistakes = 200;

/**
 * What a table of sites and their prefixes comes to, a line for each. Prefixes that are not named, and rules of names and
 * locations, stay. Nothing is taken if anything is wrong.
 */
export function planPrefixes(
  head: string[],
  lines: { line: number; cells: string[] }[],
  known: readonly SiteRule[],
): PrefixPlan {
  const names = head.map((name) => name.trim().toLowerCase());
  const [siteAt, prefixAt] = [
    names.indexOf('site'),
    names.findIndex((name) => name === 'prefix' || name === 'network'),
  ];
  const mistakes: FileMistake[] = [];
  const add = (line: number, column: string, message: string) =>
    void (mistakes.length < mostMistakes && mistakes.push({ line, column, message }));
  if (siteAt < 0) add(1, '', 'No column “site”');
  if (prefixAt < 0) add(1, '', 'No column “prefix”');
  const wanted = new Map<string, { site: string; line: number }>();
  for (const { line, cells } of mistakes.length > 0 ? [] : lines) {
    const [site, prefix] = [(cells[siteAt] ?? '').trim(), (cells[prefixAt] ?? '').trim()];
    const wrong = prefixMistake(prefix);
    if (wrong !== null) add(line, head[prefixAt] ?? '', wrong);
    if (site === '') add(line, head[siteAt] ?? '', 'names no site');
    const before = wanted.get(prefix);
    if (before && before.site !== site) {
      add(line, head[prefixAt] ?? '', `${prefix} is of “${before.site}” in line ${before.line}`);
    } else if (!before) wanted.set(prefix, { site, line });
  }
  const passedOver = head.filter((_, at) => at !== siteAt && at !== prefixAt && (head[at] ?? '').trim() !== '');
  if (mistakes.length > 0) return { named: wanted.size, changes: [], rules: [...known], passedOver, mistakes };
  const siteOf = new Map(known.flatMap(({ of, pattern, site }) => (of === 'prefix' ? [[pattern, site]] : [])));
  const changes = Array.from(wanted, ([prefix, { site }]) => ({
    prefix,
    before: siteOf.get(prefix) ?? null,
    after: site,
  }));
  const changed = changes.filter(({ before, after }) => before !== after);
  const kept = known.map((rule) =>
    rule.of === 'prefix' ? { ...rule, site: wanted.get(rule.pattern)?.site ?? rule.site } : rule,
  );
  const lengthOf = ({ prefix }: { prefix: string }) => Number(prefix.split('/')[1] ?? 0);
  const added = changed
    .filter(({ before }) => before === null)
    .sort((one, other) => lengthOf(other) - lengthOf(one))
    .map(({ prefix, after }): SiteRule => ({ of: 'prefix', pattern: prefix, site: after }));
  return { named: wanted.size, changes: changed, rules: [...added, ...kept], passedOver, mistakes };
}
