import { fitsRule, ServiceRules, type ServiceRule } from '../../core/services/serviceRule';
import { everyRow } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { readServiceRules } from '../../store/serviceRules';
import { tablesOf } from '../query/tables/estateTables';

/** What a rule would make of one listener that is known. */
export interface RuleTrialRow {
  id: string;
  device: string;
  process: string;
  protocol: string;
  port: number;
  /** what it is recognised as now; empty for nothing */
  now: string;
  /** whether the rule would have the word: it fits, and none before it does */
  taken: boolean;
}

const mostShown = 200;

/** Tries a rule, saved or not, on every listener of a survey. */
export function ruleTrial(store: Store, survey: number, rule: ServiceRule): { rows: RuleTrialRow[]; total: number } {
  const table = tablesOf(store).table('services', survey, null);
  const rules = new ServiceRules([...readServiceRules(store.db).filter(({ id }) => id !== rule.id), rule]);
  const rows = table.rows(everyRow(table.size)).flatMap((row): RuleTrialRow[] => {
    const listener = {
      process: String(row.process),
      path: String(row.path),
      arguments: String(row.arguments),
      protocol: String(row.protocol),
      port: Number(row.port),
      package: String(row.package),
    };
    if (!fitsRule(rule, listener)) return [];
    const { process, protocol, port } = listener;
    const taken = rules.of(listener)?.id === rule.id;
    return [{ id: row.id, device: String(row.device), process, protocol, port, now: String(row.service), taken }];
  });
  return { rows: rows.slice(0, mostShown), total: rows.length };
}

/** How many listeners each rule knows, by its id; those that none knows by the empty one. */
export function servicesByRule(store: Store, survey: number): [string, number][] {
  const table = tablesOf(store).table('services', survey, null);
  const counts = new Map<string, number>();
  for (const { knownBy } of table.rows(everyRow(table.size))) {
    const id = String(knownBy).split(': ').at(-1) ?? '';
    counts.set(id, (counts.get(id) ?? 0) + 1);
  }
  return [...counts];
}
