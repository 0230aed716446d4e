import { compareNaturally } from '@/core/values/naturalOrder';
import type { Rehearsal } from './useRehearsal';

export type OutageFate = 'down' | 'lost' | 'degraded' | 'untouched';

export interface OutageDevice {
  id: string;
  name: string;
  fate: OutageFate;
}

const fateOrder: OutageFate[] = ['down', 'lost', 'degraded', 'untouched'];

/** Devices by site with what becomes of them, sites with most that is lost first, what is touched first in each. */
export function sitesTouched(
  devices: readonly { id: string; name: string; site: string }[],
  { chosen, lost, degraded }: Pick<Rehearsal, 'chosen' | 'lost' | 'degraded'>,
): { site: string; devices: OutageDevice[] }[] {
  const fates = new Map<string, OutageFate>();
  for (const [rows, fate] of [
    [degraded, 'degraded'],
    [lost, 'lost'],
    [chosen, 'down'],
  ] as const)
    for (const { kind, id } of rows) if (kind === 'device') fates.set(id, fate);
  const sites = new Map<string, OutageDevice[]>();
  const known = new Set<string>();
  const put = (site: string, device: OutageDevice) => {
    known.add(device.id);
    const own = sites.get(site);
    if (own) own.push(device);
    else sites.set(site, [device]);
  };
  for (const { id, name, site } of devices) put(site, { id, name, fate: fates.get(id) ?? 'untouched' });
  // of very many devices not all are told: what is touched always is
  for (const { kind, id, name } of [...chosen, ...lost, ...degraded])
    if (kind === 'device' && !known.has(id)) put('', { id, name, fate: fates.get(id) ?? 'untouched' });
  const rank = ({ fate }: OutageDevice) => fateOrder.indexOf(fate);
  const touched = (own: readonly OutageDevice[], most: OutageFate) =>
    own.filter(({ fate }) => fateOrder.indexOf(fate) <= fateOrder.indexOf(most)).length;
  return [...sites]
    .map(([site, own]) => ({
      site,
      devices: own.sort((x, y) => rank(x) - rank(y) || compareNaturally(x.name, y.name)),
    }))
    .sort(
      (x, y) =>
        touched(y.devices, 'lost') - touched(x.devices, 'lost') ||
        touched(y.devices, 'degraded') - touched(x.devices, 'degraded') ||
        compareNaturally(x.site, y.site),
    );
}
