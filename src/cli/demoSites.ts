import type { SiteRule } from '../core/sites/siteRules';
import type { Db } from '../store/base/database';
import { writeEdit } from '../store/edits/log';
import { siteRuleEdits, siteRulesKey } from '../store/edits/sites';
import { readSiteRules } from '../store/sites';

/** Ostermere names its equipment by the stop: `rpw-plat` is at RPW; virtual machines run at Signal House. */
const rules: SiteRule[] = [
  { of: 'name', pattern: 'vm-*', site: 'SGH' },
  { of: 'name', pattern: '{site 2-4}-*', site: '' },
];

export function writeDemoSites(db: Db, who: string): void {
  if (readSiteRules(db).length > 0) return;
  const changes = [{ key: siteRulesKey, before: [], after: rules }];
  writeEdit(db, siteRuleEdits, { who, act: 'set the rules of sites', words: 'two rules', changes });
}
