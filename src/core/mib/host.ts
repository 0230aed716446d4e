import { scalar, tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

/** HOST-RESOURCES-MIB (RFC 2790): memory, storage, devices. */
export const hostTables = {
  hrSystemUptime: '1.3.6.1.2.1.25.1.1',
  hrMemorySize: '1.3.6.1.2.1.25.2.2',
  hrStorageEntry: '1.3.6.1.2.1.25.2.3.1',
  hrDeviceEntry: '1.3.6.1.2.1.25.3.2.1',
} as const;

const storageTypes = '1.3.6.1.2.1.25.2.1';
const storageKinds = [
  'other',
  'other',
  'ram',
  'virtualMemory',
  'fixedDisk',
  'removableDisk',
  'floppyDisk',
  'compactDisc',
  'ramDisk',
  'flash',
  'network',
] as const;
const deviceTypes = '1.3.6.1.2.1.25.3.1';
/** Below it: hrDeviceNetwork, hrDevicePrinter. */
const [networkType, printerType] = ['4', '5'];
/** hrDeviceStatus. */
const [warning, down] = [3, 5];
/** hrDeviceType, Descr, Status. */
export const hrDeviceColumns = [2, 3, 5] as const;

export type StorageKind = (typeof storageKinds)[number];

export interface StorageRow {
  index: number;
  kind: StorageKind;
  name: string;
  sizeBytes: number;
  /** null where the agent tells what cannot be: more than there is */
  usedBytes: number | null;
}

export interface HostResources {
  /** hrSystemUptime in seconds; absent where it is not told */
  upForSeconds?: number;
  /** hrMemorySize in bytes, or null */
  memoryBytes: number | null;
  storage: StorageRow[];
  /** descriptions of hrDeviceProcessor rows */
  processors: string[];
  /** devices that say of themselves that they are not well; network interfaces are told of by IF-MIB */
  unwell?: { name: string; state: 'warning' | 'down' }[];
  /** the first printer among its devices, in the words of its maker */
  printer?: string;
}

/** What the host tells of itself, or null if it has no HOST-RESOURCES. */
export function parseHost(answered: Answered): HostResources | null {
  const memoryKilobytes = numberOf(scalar(hostTables.hrMemorySize, answered));
  const storage = tableRows(hostTables.hrStorageEntry, answered).flatMap(({ index, cells }): StorageRow[] => {
    const type = textOf(cells.get(2)) ?? '';
    const unit = numberOf(cells.get(4)) ?? 0;
    // of units that cannot be, no size can be told
    if (unit < 0) return [];
    const sizeBytes = unsigned32(numberOf(cells.get(5)) ?? 0) * unit;
    const usedBytes = unsigned32(numberOf(cells.get(6)) ?? 0) * unit;
    return [
      {
        index: index[0] ?? 0,
        kind: type.startsWith(`${storageTypes}.`)
          ? (storageKinds[Number(type.slice(storageTypes.length + 1))] ?? 'other')
          : ('other' as const),
        name: textOf(cells.get(3)) ?? '',
        sizeBytes,
        usedBytes: usedBytes > sizeBytes ? null : usedBytes,
      },
    ];
  });
  if (memoryKilobytes === undefined && storage.length === 0) return null;
  const processors = tableRows(hostTables.hrDeviceEntry, answered)
    .filter(({ cells }) => textOf(cells.get(2)) === `${deviceTypes}.3`)
    .map(({ cells }) => textOf(cells.get(3)) ?? '');
  const devices = tableRows(hostTables.hrDeviceEntry, answered).map(({ cells }) => ({
    type: (textOf(cells.get(2)) ?? '').slice(deviceTypes.length + 1),
    name: textOf(cells.get(3)) ?? '',
    status: numberOf(cells.get(5)),
  }));
  const unwell = devices.flatMap(({ type, name, status }) =>
    name !== '' && type !== networkType && (status === warning || status === down)
      ? [{ name, state: status === down ? ('down' as const) : ('warning' as const) }]
      : [],
  );
  const printer = devices.find(({ type, name }) => type === printerType && name !== '');
  const upFor = numberOf(scalar(hostTables.hrSystemUptime, answered));
  return {
    ...(upFor !== undefined && { upForSeconds: Math.floor(upFor / 100) }),
    ...(unwell.length > 0 && { unwell }),
    ...(printer && { printer: printer.name }),
    memoryBytes: memoryKilobytes === undefined ? null : unsigned32(memoryKilobytes) * 1024,
    storage,
    processors,
  };
}

/** hrStorageSize and hrMemorySize are signed 32-bit counts: large ones come back negative from some agents. */
function unsigned32(value: number): number {
  return value < 0 ? value + 2 ** 32 : value;
}
