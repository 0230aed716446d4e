import type { AddressFacts, RouteFacts } from '../../core/estate/facts';
import type { NetworkPart } from '../../core/map/mapData';
import { valueAt } from '../../core/tables/column';
import { networkOf, parsePrefix, prefixContains } from '../../core/values/ipAddress';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { tablesOf } from '../query/tables/estateTables';

/** What each device has to do with a network: an address in it, a way to others, machines of it on its ports. @param network `10.72.4.0/24`, before it its virtual router where it has one */
export function networkReach(store: Store, survey: number, network: string): Map<number, NetworkPart> {
  const [prefix = '', vrf = ''] = network.split(' ').reverse();
  const found = new Map<number, NetworkPart>();
  const of = (device: number) => {
    let part = found.get(device);
    if (!part) found.set(device, (part = { routes: false, inside: false, machines: 0 }));
    return part;
  };
  const routing = new Set(
    factsAsOf<RouteFacts>(store.db, 'route', survey)
      .filter(({ content }) => content.nextHop !== null)
      .map(({ deviceId }) => deviceId),
  );
  const networks = new Map<number, Set<string>>();
  for (const {
    deviceId,
    content: { address, prefixLength, vrf: own = '' },
  } of factsAsOf<AddressFacts>(store.db, 'address', survey)) {
    if (prefixLength === null || prefixLength >= (address.includes(':') ? 128 : 32)) continue;
    const at = networkOf(address, prefixLength);
    networks.set(deviceId, (networks.get(deviceId) ?? new Set<string>()).add(`${own} ${at}`));
    if (own === vrf && at === prefix) of(deviceId).inside = true;
  }
  for (const [device, part] of found) part.routes = routing.has(device) || (networks.get(device)?.size ?? 0) > 1;
  if (vrf !== '') return found;
  const endpoints = tablesOf(store).table('endpoints', survey, null);
  const [addresses, owners] = [endpoints.column('addresses'), endpoints.owners()];
  const inside = parsePrefix(prefix);
  const lies = new Map<number, boolean>();
  for (let row = 0; row < endpoints.size; row++) {
    const code = addresses.codes[row] ?? 0;
    let there = lies.get(code);
    if (there === undefined)
      lies.set(
        code,
        (there = (valueAt(addresses, row) as string[]).some((address) => prefixContains(inside, address))),
      );
    const owner = owners[row] ?? 0;
    if (there && owner > 0) of(owner).machines++;
  }
  return found;
}
