import { CheckMistake, filterOfCheck, type Severity, severities } from '../../core/checks/check';
import { FilterError, type FilterNode } from '../../core/filter/filterNode';
import { parseFilter } from '../../core/filter/syntax';
import type { ThingName } from '../../core/things/things';
import { rowWords } from '../../core/things/rowWords';
import { readChecks } from '../../store/checks';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import type { MarkedRow } from '../query/tables/thingTable';

/** A check that fails because of one thing, or of something at it. */
export interface FailingCheck {
  key: string;
  name: string;
  severity: Severity;
  why: string;
  remedy: string;
  /** what it is of that fails, where that is not the thing itself: the link of a port, a machine at it */
  of: string[];
}

/** Rows of a thing by which checks are judged. */
export interface Judged {
  thing: ThingName;
  /** a filter of rows that lie at the thing that is looked at; the row itself where it is not given */
  where?: string;
}

const mostNamed = 3;

/**
 * Which checks fail at one thing: those whose rule it fits, and those that fit what lies at it. The worst first.
 * @param row the thing itself
 * @param at what lies at it
 */
export function failingAt(
  store: Store,
  name: ThingName,
  survey: number,
  row: Pick<MarkedRow, 'id'>,
  at: readonly Judged[] = [],
): FailingCheck[] {
  const tables = tablesOf(store);
  const checks = readChecks(store.db).filter(({ on }) => on);
  const found: FailingCheck[] = [];
  for (const { thing, where } of [{ thing: name }, ...at] as Judged[]) {
    const own = checks.filter((check) => check.thing === thing);
    if (own.length === 0) continue;
    const table = tables.table(thing, survey, null);
    const rows =
      where === undefined
        ? [table.rowOf(row.id)]
        : [...tables.select(thing, survey, table, where).entries()].flatMap(([place, fits]) => (fits ? [place] : []));
    if (rows.length === 0) continue;
    for (const check of own) {
      const fits = fitting(() => tables.select(thing, survey, table, filterOfCheck(check)));
      const failing = rows.filter((place) => fits?.[place]);
      if (failing.length === 0) continue;
      const { key, name: words, severity, why, remedy } = check;
      found.push({
        key,
        name: words,
        severity,
        why,
        remedy,
        of:
          where === undefined
            ? []
            : table
                .rows(failing.slice(0, mostNamed))
                .map((one) =>
                  thing === 'links' ? issuesMeant(String(one.issueWords), check.where) : rowWords(thing, one),
                ),
      });
    }
  }
  return found.sort((x, y) => severities.indexOf(x.severity) - severities.indexOf(y.severity));
}

/** Of all that is wrong with a link, what a rule speaks of. */
function issuesMeant(issueWords: string, where: string): string {
  const asked: string[] = [];
  const look = (node: FilterNode): void => {
    if (node.kind === 'term') asked.push(...(node.field === 'issueWords' ? [node.value.toLowerCase()] : []));
    else if (node.kind === 'not') look(node.of);
    else node.of.forEach(look);
  };
  look(parseFilter(where));
  const meant = issueWords.split('; ').filter((words) => asked.some((part) => words.toLowerCase().includes(part)));
  return meant.length > 0 ? meant.join('; ') : issueWords;
}

/** Null for a rule that cannot be asked any more: the list of checks says so. */
function fitting(select: () => Uint8Array): Uint8Array | null {
  try {
    return select();
  } catch (error) {
    if (error instanceof FilterError || error instanceof CheckMistake) return null;
    throw error;
  }
}
