import { eq } from 'drizzle-orm';
import type { SiteRule } from '../../core/sites/siteRules';
import { deviceSite } from '../base/schema';
import { readSiteRules, saveSiteRules } from '../sites';
import { numberOf, oneByOne, type Editable } from './editable';

/** There is one list of rules: their order matters. */
export const siteRulesKey = 'rules';

/** The rules by which sites are told, as the log of edits sees them: the whole list is one value. */
export const siteRuleEdits: Editable<SiteRule[]> = {
  kind: 'siteRules',
  one: 'rule of sites',
  many: 'rules of sites',
  role: 'administrator',
  called: () => 'the rules of sites',
  read: (db) => readSiteRules(db),
  write: oneByOne((db, _key, after) => {
    saveSiteRules(db, after ?? []);
    return siteRulesKey;
  }),
};

/** Sites that were set by hand, as the log of edits sees them. */
export const deviceSiteEdits: Editable<string> = {
  kind: 'deviceSites',
  one: 'site of a device',
  many: 'sites of devices',
  role: 'operator',
  called: (site, key) => `the site of device ${key}`,
  read: (db, key) =>
    db
      .select()
      .from(deviceSite)
      .where(eq(deviceSite.deviceId, numberOf(key)))
      .get()?.site ?? null,
  write: oneByOne((db, key, site) => {
    const deviceId = numberOf(key ?? '');
    if (site === null) db.delete(deviceSite).where(eq(deviceSite.deviceId, deviceId)).run();
    else
      db.insert(deviceSite)
        .values({ deviceId, site })
        .onConflictDoUpdate({ target: deviceSite.deviceId, set: { site } })
        .run();
    return key ?? '';
  }),
};
