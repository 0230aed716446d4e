import { networkOf } from '../values/ipAddress';
import type { AddressFacts } from '../estate/facts';
import type { Claim } from './claim';
import type { KnownDevice } from './deviceIndex';

/** Room for two addresses and no more (RFC 3021 and RFC 6164, and the usual /30). */
const pointToPoint = (address: string, length: number) =>
  address.includes(':') ? length >= 126 && length < 128 : length >= 30 && length < 32;

/**
 * Two devices that share a subnet with room for two are joined on layer 3, port to port. A subnet on which three or more are is none. By virtual router, since the same addresses may be
 * used in several. Linear in the addresses.
 */
export function claimsFromSubnets(devices: readonly (KnownDevice & { subnets?: readonly AddressFacts[] })[]): Claim[] {
  const members = new Map<string, { known: KnownDevice; row: AddressFacts }[]>();
  for (const known of devices) {
    for (const row of known.subnets ?? []) {
      if (row.prefixLength === null || !pointToPoint(row.address, row.prefixLength)) continue;
      const key = `${row.vrf ?? ''} ${networkOf(row.address, row.prefixLength)}`;
      members.set(key, [...(members.get(key) ?? []), { known, row }]);
    }
  }
  return [...members].flatMap(([key, [one, other, more]]): Claim[] => {
    if (!one || !other || more || one.known.id === other.known.id) return [];
    const subnet = key.slice(key.indexOf(' ') + 1);
    const end = ({ known, row }: typeof one) => ({ deviceId: known.id, device: known.device.name, port: row.port });
    return [
      {
        a: end(one),
        b: end(other),
        source: 'subnet',
        by: null,
        byName: subnet,
        kind: 'l3',
        detail: `${one.known.device.name} (${one.row.address}) and ${other.known.device.name} (${other.row.address}) are alone in ${subnet}`,
      },
    ];
  });
}
