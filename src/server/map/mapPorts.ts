import type { DeviceFacts } from '../../core/estate/facts';
import type { DevicePorts, MapPort } from '../../core/map/mapPorts';
import { everyRow } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { readSignatures } from '../../store/programFiles';
import { tablesOf } from '../query/tables/estateTables';
import type { MarkedRow } from '../query/tables/thingTable';

/** All ports of some devices that can be touched, as the map shows them. @param vlan also tells which of them carry this VLAN */
export function mapPorts(
  store: Store,
  survey: number,
  against: number | null,
  devices: readonly number[],
  vlan: number | null,
): DevicePorts[] {
  const wanted = new Set(devices);
  const table = tablesOf(store).table('ports', survey, against);
  const owners = table.owners();
  const ports = new Map<number, MapPort[]>(devices.map((device) => [device, []]));
  for (const row of table.rows(everyRow(table.size).filter((at) => wanted.has(owners[at] ?? 0))))
    if (row.physical) ports.get(Number(row.deviceId))?.push(portOf(row, vlan));
  const signatures = new Map(readSignatures(store.folder).map(({ id, faceplate }) => [id, faceplate ?? null]));
  const plans = new Map(
    factsAsOf<DeviceFacts>(store.db, 'device', survey).map(({ deviceId, content }) => [
      deviceId,
      signatures.get(content.signature) ?? null,
    ]),
  );
  return [...ports].map(([device, own]) => ({ device, plan: plans.get(device) ?? null, ports: own }));
}

function portOf(row: MarkedRow, vlan: number | null): MapPort {
  const [stp, tagged] = [row.stp as MapPort['stp'], row.taggedVlans as number[] | undefined];
  const carries =
    vlan === null ? undefined : row.vlan === vlan ? 'untagged' : tagged?.includes(vlan) ? 'tagged' : undefined;
  return {
    name: String(row.name),
    alias: String(row.alias ?? ''),
    admin: String(row.admin),
    oper: String(row.oper),
    duplex: String(row.duplex),
    disabledBy: String(row.disabledBy ?? ''),
    speedBps: (row.speedBps as number | null | undefined) ?? null,
    vlan: (row.vlan as number | null | undefined) ?? null,
    lag: (row.lag as string | null | undefined) ?? null,
    stp: stp && { state: stp.state, role: stp.role },
    pluggedIn: String(row.pluggedIn ?? ''),
    how: String(row.how ?? ''),
    ...(row.change ? { change: String(row.change) } : {}),
    ...(carries && { carries }),
  };
}
