import { eq } from 'drizzle-orm';
import type { SiteRule } from '../core/estate/interpret';
import type { Db } from './base/database';
import { setting } from './base/schema';

/** `sgh-core-1` and `rpw-plat` name their site by what stands before the first hyphen. */
const defaultSiteRules: SiteRule[] = [{ field: 'name', pattern: '^([a-z]{2,4})-' }];

export function readSiteRules(db: Db): SiteRule[] {
  const row = db.select().from(setting).where(eq(setting.key, 'siteRules')).get();
  return (row?.value as SiteRule[] | undefined) ?? defaultSiteRules;
}
