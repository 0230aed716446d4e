import { eq } from 'drizzle-orm';
import { siteTeller, type SitedDevice, type SiteRule } from '../core/sites/siteRules';
import type { Db } from './base/database';
import { deviceSite, setting } from './base/schema';
import { statements } from './base/statements';

const ruleKey = 'siteRules';

/** How it is told where a device stands, in the order in which it is asked. There are none until somebody writes some. */
export function readSiteRules(db: Db): SiteRule[] {
  const row = db.select().from(setting).where(eq(setting.key, ruleKey)).get();
  return (row?.value as SiteRule[] | undefined) ?? [];
}

export function saveSiteRules(db: Db, rules: readonly SiteRule[]): void {
  db.insert(setting)
    .values({ key: ruleKey, value: rules })
    .onConflictDoUpdate({ target: setting.key, set: { value: rules } })
    .run();
}

/** Sites that were set by hand, by device. */
export const readDeviceSites = (db: Db): Map<number, string> =>
  new Map(
    db
      .select()
      .from(deviceSite)
      .all()
      .map(({ deviceId, site }) => [deviceId, site]),
  );

/** Where a device stands: as somebody set it by hand, else as the first rule tells that fits. */
export type SiteOf = (deviceId: number, device: SitedDevice) => string;

/** @param fallback what was told of a device before there were rules: it holds while nobody says otherwise */
type StoredSite = (deviceId: number, device: SitedDevice, fallback: string) => string;

export function siteIndex(rules: readonly SiteRule[], byHand: ReadonlyMap<number, string>): StoredSite {
  const tell = siteTeller(rules);
  const isSilent = rules.length === 0;
  return (deviceId, device, fallback) => byHand.get(deviceId) ?? (isSilent ? fallback : (tell(device)?.site ?? ''));
}

/** What is written of sites, to be compared with what was. */
const writtenOf = statements(({ $client }) =>
  $client.prepare<[], { rules: string | null; sites: string | null }>(
    "select (select value from setting where key = 'siteRules') as rules, (select group_concat(device_id || ' ' || site, char(10)) from device_site) as sites",
  ),
);

const known = new WeakMap<Db, { written: string; siteOf: StoredSite }>();

/** The sites of a store as they are told now; read again wherever something else was written. */
export function sitesOf(db: Db): StoredSite {
  const written = siteStamp(db);
  const before = known.get(db);
  if (before?.written === written) return before.siteOf;
  const siteOf = siteIndex(readSiteRules(db), readDeviceSites(db));
  known.set(db, { written, siteOf });
  return siteOf;
}

/** Another text wherever something else is said of sites. */
export function siteStamp(db: Db): string {
  const { rules, sites } = writtenOf(db).get() ?? { rules: null, sites: null };
  return `${rules ?? ''}\n${sites ?? ''}`;
}
