import type { ToldLinkFacts } from '../estate/facts';
import type { Claim } from './claim';
import type { DeviceIndex, KnownDevice } from './deviceIndex';
import type { LinkEnd } from './links';

/**
 * What a controller says of those it looks after: which port of a switch an access point hangs on, how the leaves and spines of a fabric are joined. It is a word of somebody who is at neither end. A port it does
 * not name is the one that the switch hears there, or else the only one the device has. What it tells of devices that are not in the estate makes no link. Linear in what is told.
 */
export function claimsFromControllers(
  devices: readonly (KnownDevice & { toldLinks?: readonly ToldLinkFacts[] })[],
  index: DeviceIndex,
  told: readonly Claim[] = [],
): Claim[] {
  const heard = new Map(
    told.flatMap(({ a, b }) => [
      [`${a.deviceId} ${a.port} ${b.deviceId}`, b.port],
      [`${b.deviceId} ${b.port} ${a.deviceId}`, a.port],
    ]),
  );
  const end = ({ device, port }: ToldLinkFacts['a']): LinkEnd | null => {
    const known = index.byName(device);
    if (!known) return null;
    const physical = known.ports.filter((own) => own.physical);
    return {
      deviceId: known.id,
      device: known.device.name,
      port: port || (physical.length === 1 ? (physical[0]?.name ?? '') : ''),
    };
  };
  return devices.flatMap(({ id, device, toldLinks = [] }) =>
    toldLinks.flatMap((link): Claim[] => {
      const [a, b] = [end(link.a), end(link.b)];
      if (!link.up || !a || !b || a.deviceId === b.deviceId) return [];
      if (!link.b.port) b.port = heard.get(`${a.deviceId} ${a.port} ${b.deviceId}`) ?? b.port;
      const words = ({ device: name, port }: LinkEnd) => `${name} ${port}`.trimEnd();
      return [
        {
          a,
          b,
          source: 'controller',
          by: id,
          byName: device.name,
          detail: `${device.name} says that ${words(b)} is joined to ${words(a)}`,
          ...(link.kind === 'l3' && { kind: 'l3' as const }),
        },
      ];
    }),
  );
}
