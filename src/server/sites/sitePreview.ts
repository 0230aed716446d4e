import { siteTeller, type SiteRule } from '../../core/sites/siteRules';
import type { DeviceFacts } from '../../core/estate/facts';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { readDeviceSites } from '../../store/sites';

const shown = 200;
const shownNames = 5;

/** What rules would make of the devices of a survey. */
export interface SitePreview {
  /** by rule: how many devices it tells of, and how the first are called */
  rules: { devices: number; first: string[]; sites: string[] }[];
  byHand: number;
  /** devices that would stand nowhere */
  without: { devices: number; first: string[] };
  /** devices whose site would be another, the first of many */
  changed: number;
  changes: { id: number; device: string; before: string; after: string }[];
}

/** What rules would give, before they are saved. */
export function sitePreview(store: Store, survey: number, rules: readonly SiteRule[]): SitePreview {
  const byHand = readDeviceSites(store.db);
  const tell = siteTeller(rules);
  const told = rules.map(() => ({ names: [] as string[], sites: new Set<string>() }));
  const without: string[] = [];
  const changes: SitePreview['changes'] = [];
  let set = 0;
  const devices = survey === 0 ? [] : factsAsOf<DeviceFacts>(store.db, 'device', survey);
  for (const { deviceId, content } of devices) {
    const { name, location = '', address = '' } = content;
    const own = byHand.get(deviceId);
    const found = own === undefined ? tell({ name, location: location ?? '', address: address ?? '' }) : null;
    const after = own ?? found?.site ?? '';
    if (own !== undefined) set++;
    else if (found) {
      told[found.rule]?.names.push(name);
      told[found.rule]?.sites.add(found.site);
    } else without.push(name);
    if (content.site !== after) changes.push({ id: deviceId, device: name, before: content.site, after });
  }
  const firstOf = (names: string[]) => names.sort(compareNaturally).slice(0, shownNames);
  return {
    rules: told.map(({ names, sites }) => ({
      devices: names.length,
      first: firstOf(names),
      sites: [...sites].sort(compareNaturally),
    })),
    byHand: set,
    without: { devices: without.length, first: firstOf(without) },
    changed: changes.length,
    changes: changes.sort((one, other) => compareNaturally(one.device, other.device)).slice(0, shown),
  };
}
