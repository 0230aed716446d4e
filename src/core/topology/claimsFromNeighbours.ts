import type { Claim } from './claim';
import type { DeviceIndex } from './deviceIndex';

/** Each neighbour report (IEEE 802.1AB) about an inventoried device as a claim of the device that heard it. A neighbour that is not in the estate makes none. Linear in the reports. */
export function claimsFromNeighbours(index: DeviceIndex): Claim[] {
  return index.devices.flatMap((known) =>
    known.neighbours.flatMap((neighbour): Claim[] => {
      const other = index.ofNeighbour(neighbour);
      if (!other || other.id === known.id) return [];
      return [
        {
          a: { deviceId: known.id, device: known.device.name, port: neighbour.port },
          b: {
            deviceId: other.id,
            device: other.device.name,
            port: index.portOfNeighbour(other, neighbour)?.name ?? neighbour.portId,
          },
          source: 'lldp',
          by: known.id,
          byName: known.device.name,
          detail: `${known.device.name} hears ${neighbour.systemName || neighbour.chassisId} (${neighbour.portId}) on ${neighbour.port}`,
        },
      ];
    }),
  );
}
