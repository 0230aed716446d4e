import { scalar, tableRows, type Answered } from './table';
import { macOfValue, numberOf, octetsOfValue, textOf } from './varbind';

/** VM-MIB (RFC 7666): the hypervisor, its machines and their network adapters. */
export const vmTables = {
  vmHvSoftware: '1.3.6.1.2.1.236.1.1.1',
  vmHvVersion: '1.3.6.1.2.1.236.1.1.2',
  vmEntry: '1.3.6.1.2.1.236.1.4.1',
  vmNetworkEntry: '1.3.6.1.2.1.236.1.8.1',
} as const;

/** Name, UUID, system, states wanted and real, processors, memory unit and current memory. */
export const vmColumns = [2, 3, 4, 5, 6, 9, 12, 13] as const;
/** Own ifIndex, the ifIndex it hangs on, MAC. */
export const vmNetworkColumns = [2, 3, 5] as const;

export interface MachineRow {
  vmIndex: number;
  name: string;
  /** lower case with hyphens; empty where the agent tells none */
  uuid: string;
  system: string;
  state: MachineState;
  processors: number | null;
  memoryBytes: number | null;
  adapters: { mac: string | null; parentIfIndex: number | null }[];
}

export interface Hypervisor {
  software: string;
  version: string;
  machines: MachineRow[];
}

/** VirtualMachineOperState, in the order of its numbers. */
const states = [
  'unknown',
  'unknown',
  'unknown',
  'preparing',
  'running',
  'suspending',
  'suspended',
  'resuming',
  'migrating',
  'paused',
  'shutting down',
  'off',
  'crashed',
] as const;
export type MachineState = (typeof states)[number];

/** Null where the agent runs no machines and names no hypervisor. Memory is told in units of vmMemUnit bytes. */
export function parseHypervisor(answered: Answered): Hypervisor | null {
  const software = textOf(scalar(vmTables.vmHvSoftware, answered)) ?? '';
  const adapters = new Map<number, MachineRow['adapters']>();
  for (const { index, cells } of tableRows(vmTables.vmNetworkEntry, answered)) {
    const adapter = { mac: macOfValue(cells.get(5)), parentIfIndex: numberOf(cells.get(3)) || null };
    adapters.set(index[0] ?? 0, [...(adapters.get(index[0] ?? 0) ?? []), adapter]);
  }
  const machines = tableRows(vmTables.vmEntry, answered)
    .filter(({ index }) => index.length === 1)
    .map(({ index, cells }) => {
      const memory = numberOf(cells.get(13));
      return {
        vmIndex: index[0] ?? 0,
        name: textOf(cells.get(2)) ?? '',
        uuid: uuidText(octetsOfValue(cells.get(3))),
        system: textOf(cells.get(4)) ?? '',
        state: states[numberOf(cells.get(6)) ?? 0] ?? 'unknown',
        processors: numberOf(cells.get(9)) || null,
        memoryBytes: memory === undefined || memory < 0 ? null : memory * (numberOf(cells.get(12)) ?? 1),
        adapters: adapters.get(index[0] ?? 0) ?? [],
      };
    });
  return software === '' && machines.length === 0
    ? null
    : { software, version: textOf(scalar(vmTables.vmHvVersion, answered)) ?? '', machines };
}

/** Sixteen octets, or the text of them (UUID-TC-MIB, RFC 6933 section 2.14). */
export function uuidText(octets: Uint8Array | undefined): string {
  if (!octets) return '';
  if (octets.length === 16) {
    const hex = Array.from(octets, (octet) => octet.toString(16).padStart(2, '0')).join('');
    return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-');
  }
  const text = new TextDecoder('latin1').decode(octets).trim().toLowerCase();
  return /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(text) ? text : '';
}
