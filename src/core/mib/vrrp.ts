import { addressFromOctets } from '../values/ipAddress';
import { indexedAddress } from './inetAddress';
import { tableRows, type Answered } from './table';
import { macOfValue, numberOf } from './varbind';

/** VRRP-MIB (RFC 2787) and VRRPV3-MIB (RFC 6527): routers that stand in for each other. */
export const vrrpTables = {
  vrrpOperEntry: '1.3.6.1.2.1.68.1.3.1',
  vrrpAssoIpAddrEntry: '1.3.6.1.2.1.68.1.4.1',
  vrrpv3OperationsEntry: '1.3.6.1.2.1.207.1.1.1.1',
  vrrpv3AssociatedIpAddrEntry: '1.3.6.1.2.1.207.1.1.2.1',
} as const;
export const vrrpFamily = '1.3.6.1.2.1.68';
export const vrrpv3Family = '1.3.6.1.2.1.207';

/** vrrpOperVirtualMacAddr, State, AdminState, Priority. */
export const vrrpOperColumns = [2, 3, 4, 5] as const;
/** vrrpAssoIpAddrRowStatus. */
export const vrrpAssoIpAddrColumns = [2] as const;
/** vrrpv3OperationsVirtualMacAddr, Status, Priority. */
export const vrrpv3OperationsColumns = [5, 6, 7] as const;
/** vrrpv3AssociatedIpAddrRowStatus. */
export const vrrpv3AssociatedIpAddrColumns = [2] as const;

const states = ['unknown', 'initialize', 'backup', 'master'] as const;
const active = 1;

/** A virtual router as one of those that carry it tells of it. */
export interface VirtualRouter {
  ifIndex: number;
  /** VRID, 1 to 255 */
  group: number;
  family: 'IPv4' | 'IPv6';
  state: (typeof states)[number];
  priority: number | null;
  mac: string | null;
  addresses: string[];
}

/** Virtual routers of both MIBs; those of IPv4 that both tell of once. */
export function parseVirtualRouters(answered: Answered): VirtualRouter[] {
  const found = new Map<string, VirtualRouter>();
  const keep = (router: VirtualRouter) => {
    const key = `${router.ifIndex} ${router.group} ${router.family}`;
    if (!found.has(key)) found.set(key, router);
  };
  const addressesOf = (key: string, index: number[], at: number, address: string | null, status: number | undefined) =>
    address !== null && index.length === at && (status === undefined || status === active)
      ? [[key, address] as const]
      : [];

  const newer = grouped(
    tableRows(vrrpTables.vrrpv3AssociatedIpAddrEntry, answered).flatMap(({ index, cells }) => {
      const [ifIndex, group, type] = index;
      // the type of the group goes before the address, which therefore says its length alone
      const address = type === undefined ? null : indexedAddress([type, ...index.slice(3)], 0);
      return addressesOf(
        `${ifIndex} ${group} ${type}`,
        index,
        (address?.next ?? 0) + 2,
        address?.address ?? null,
        numberOf(cells.get(2)),
      );
    }),
  );
  for (const { index, cells } of tableRows(vrrpTables.vrrpv3OperationsEntry, answered)) {
    const [ifIndex = 0, group = 0, type = 0] = index;
    if (index.length !== 3 || !isGroup(group)) continue;
    keep({
      ifIndex,
      group,
      family: type === 2 || type === 4 ? 'IPv6' : 'IPv4',
      state: states[numberOf(cells.get(6)) ?? 0] ?? 'unknown',
      priority: numberOf(cells.get(7)) ?? null,
      mac: macOfValue(cells.get(5)),
      addresses: newer.get(index.join(' ')) ?? [],
    });
  }
  const older = grouped(
    tableRows(vrrpTables.vrrpAssoIpAddrEntry, answered).flatMap(({ index, cells }) =>
      addressesOf(
        index.slice(0, 2).join(' '),
        index,
        6,
        addressFromOctets(index.slice(2)) ?? null,
        numberOf(cells.get(2)),
      ),
    ),
  );
  for (const { index, cells } of tableRows(vrrpTables.vrrpOperEntry, answered)) {
    const [ifIndex = 0, group = 0] = index;
    if (index.length !== 2 || !isGroup(group)) continue;
    keep({
      ifIndex,
      group,
      family: 'IPv4',
      state: states[numberOf(cells.get(3)) ?? 0] ?? 'unknown',
      priority: numberOf(cells.get(5)) ?? null,
      mac: macOfValue(cells.get(2)),
      addresses: older.get(index.join(' ')) ?? [],
    });
  }
  return [...found.values()];
}

const isGroup = (number: number): boolean => number >= 1 && number <= 255;

function grouped(pairs: (readonly [string, string])[]): Map<string, string[]> {
  const lists = new Map<string, string[]>();
  for (const [key, value] of pairs) lists.set(key, [...(lists.get(key) ?? []), value]);
  return lists;
}
