import type { PortFacts } from '../estate/facts';
import type { Claim } from './claim';
import type { DeviceIndex } from './deviceIndex';

/**
 * A port whose segment another bridge is designated on has heard that bridge's own frames, which no bridge passes on (IEEE 802.1D): the two are joined. The bridge and
 * the number of its port stand in what the port tells (BRIDGE-MIB, RFC 4188, dot1dStpPortDesignatedBridge and -Port). Blocked ports are told too: of a link that rests, no
 * forwarding table knows anything. A port of an aggregate stands for it. Linear in the ports.
 */
export function claimsFromSpanningTree(index: DeviceIndex): Claim[] {
  const numbered = new Map<number, Map<number, PortFacts>>();
  const portNumbered = (deviceId: number, ports: readonly PortFacts[], number: number) => {
    let own = numbered.get(deviceId);
    if (!own)
      numbered.set(
        deviceId,
        (own = new Map(
          ports.flatMap((port) => (port.stp?.number === undefined ? [] : [[port.stp.number, port] as const])),
        )),
      );
    return own.get(number);
  };
  return index.devices.flatMap((known) =>
    known.ports.flatMap(({ name, stp }): Claim[] => {
      if (
        !stp?.designatedBridge ||
        (stp.role !== 'root' && stp.role !== 'alternate') ||
        stp.designatedBridge === known.device.bridgeAddress
      )
        return [];
      const other = index.byMac(stp.designatedBridge);
      if (!other || other.id === known.id || typeof stp.designatedPort !== 'number') return [];
      const port = portNumbered(other.id, other.ports, stp.designatedPort);
      if (!port) return [];
      return [
        {
          a: { deviceId: known.id, device: known.device.name, port: name },
          b: { deviceId: other.id, device: other.device.name, port: port.name },
          source: 'spanningTree',
          by: known.id,
          byName: known.device.name,
          detail: `${known.device.name} hears on ${name} that ${other.device.name} speaks for the segment, from its port ${port.name}${stp.role === 'alternate' ? '; its own port rests' : ''}`,
        },
      ];
    }),
  );
}
