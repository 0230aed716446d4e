import type { Bridge } from '../mib/bridge';
import type { InterfaceRow } from '../mib/interfaces';
import type { Lldp, LldpLocalPort } from '../mib/lldp';
import { isSocket } from '../values/iana';

/**
 * Which interface each port number of LLDP is. What a port calls itself in lldpLocPortTable tells it where one socket alone is called so, and one port of LLDP alone calls itself
 * so; many agents give every port one description or one MAC. Else the number tells: on a bridge it is that of the bridge port (IEEE 802.1AB), with some agents an ifIndex; which of the two
 * holds for this device is told by those ports whose names are clear, or by which numbers there are. Only sockets are ends of cables.
 * @returns lldpLocPortNum → interface; a port that nothing tells of is left out
 */
export function lldpPorts(
  lldp: Lldp,
  interfaces: readonly InterfaceRow[],
  bridge: Pick<Bridge, 'ifIndexByBridgePort'> | null,
): Map<number, InterfaceRow> {
  const sockets = interfaces.filter(({ ifType }) => isSocket(ifType));
  if (lldp.byIfIndex) return new Map(sockets.map((row) => [row.ifIndex, row]));
  const named = new Map(
    lldp.localPorts.flatMap((local) => {
      const row = calledBy(local, sockets);
      return row ? [[local.portNumber, row] as const] : [];
    }),
  );
  const times = new Map<InterfaceRow, number>();
  for (const row of named.values()) times.set(row, (times.get(row) ?? 0) + 1);
  for (const [number, row] of named) if ((times.get(row) ?? 0) > 1) named.delete(number);

  const byIfIndex = new Map(sockets.map((row) => [row.ifIndex, row]));
  const byBridgePort = new Map(
    [...(bridge?.ifIndexByBridgePort ?? [])].flatMap(([port, ifIndex]) => {
      const row = byIfIndex.get(ifIndex);
      return row ? [[port, row] as const] : [];
    }),
  );
  const numbers = new Set([
    ...lldp.localPorts.map(({ portNumber }) => portNumber),
    ...lldp.neighbours.map(({ localPortNumber }) => localPortNumber),
    ...(lldp.voiceVlans?.keys() ?? []),
  ]);
  const numbering = fittingNumbering(numbers, named, byBridgePort, byIfIndex);
  const taken = new Set(named.values());
  return new Map(
    [...numbers].flatMap((number) => {
      const counted = numbering?.get(number);
      const row = named.get(number) ?? (counted && !taken.has(counted) ? counted : undefined);
      return row ? [[number, row] as const] : [];
    }),
  );
}

/** The one numbering that the clear names agree with, or else the one that knows all numbers; the standard’s where both do. */
function fittingNumbering(
  numbers: ReadonlySet<number>,
  named: ReadonlyMap<number, InterfaceRow>,
  byBridgePort: ReadonlyMap<number, InterfaceRow>,
  byIfIndex: ReadonlyMap<number, InterfaceRow>,
): ReadonlyMap<number, InterfaceRow> | null {
  const judged = [byBridgePort, byIfIndex].map((numbering) => ({
    numbering,
    agrees: [...named].filter(([number, row]) => numbering.get(number) === row).length,
    differs: [...named].filter(([number, row]) => numbering.has(number) && numbering.get(number) !== row).length,
    knows: [...numbers].filter((number) => numbering.has(number)).length,
  }));
  const possible = judged.filter(({ differs, knows }) => differs === 0 && knows > 0);
  const [best, other] = possible.toSorted((x, y) => y.agrees - x.agrees || y.knows - x.knows);
  if (!best) return null;
  // where names say nothing, numbers that are not all known belong to no numbering that can be told
  if (best.agrees === 0 && best.knows < numbers.size) return null;
  return other && other.agrees === best.agrees && other.knows === best.knows
    ? byBridgePort.size > 0
      ? byBridgePort
      : byIfIndex
    : best.numbering;
}

/** The socket that a port means by its id, as its subtype has it, or by its description. */
function calledBy(local: LldpLocalPort, sockets: readonly InterfaceRow[]): InterfaceRow | undefined {
  const only = (fits: (row: InterfaceRow) => boolean): InterfaceRow | undefined => {
    const fitting = sockets.filter(fits);
    return fitting.length === 1 ? fitting[0] : undefined;
  };
  const { portIdSubtype, portId, description } = local;
  return (
    (portIdSubtype === 'macAddress' ? only(({ mac }) => mac === portId) : undefined) ??
    (portIdSubtype === 'interfaceAlias' && portId !== '' ? only(({ alias }) => alias === portId) : undefined) ??
    (portId !== '' ? (only(({ name }) => name === portId) ?? only((row) => row.description === portId)) : undefined) ??
    (description !== ''
      ? (only(({ name }) => name === description) ?? only((row) => row.description === description))
      : undefined) ??
    (portIdSubtype === 'local' ? only(({ ifIndex }) => String(ifIndex) === portId) : undefined)
  );
}
