import { tableRows, type Answered, type Cells } from './table';
import { numberOf, octetsOfValue, textOf } from './varbind';

/** What neighbours tell beside LLDP's own: LLDP-EXT-DOT1-MIB, LLDP-EXT-DOT3-MIB (IEEE 802.1AB-2005 annexes F and G) and LLDP-EXT-MED-MIB (ANSI/TIA-1057). */
export const lldpExtensionTables = {
  lldpXdot1RemEntry: '1.0.8802.1.1.2.1.5.32962.1.3.1.1',
  lldpXdot1RemProtoVlanEntry: '1.0.8802.1.1.2.1.5.32962.1.3.2.1',
  lldpXdot1RemVlanNameEntry: '1.0.8802.1.1.2.1.5.32962.1.3.3.1',
  lldpXdot3RemPowerEntry: '1.0.8802.1.1.2.1.5.4623.1.3.2.1',
  lldpXdot3RemPortEntry: '1.0.8802.1.1.2.1.5.4623.1.3.1.1',
  lldpXdot3RemLinkAggEntry: '1.0.8802.1.1.2.1.5.4623.1.3.3.1',
  lldpXdot3RemMaxFrameSizeEntry: '1.0.8802.1.1.2.1.5.4623.1.3.4.1',
  lldpXMedRemInventoryEntry: '1.0.8802.1.1.2.1.5.4795.1.3.3.1',
} as const;
/** All extensions lie below it. */
export const lldpExtensionFamily = '1.0.8802.1.1.2.1.5';

/** lldpXdot1RemPortVlanId. */
export const lldpXdot1RemColumns = [1] as const;
/** lldpXdot1RemProtoVlanEnabled. */
export const lldpXdot1RemProtoVlanColumns = [3] as const;
/** lldpXdot1RemVlanName. */
export const lldpXdot1RemVlanNameColumns = [2] as const;
/** lldpXdot3RemPowerPortClass, PowerClass. */
export const lldpXdot3RemPowerColumns = [1, 6] as const;
/** lldpXdot3RemPortAutoNegEnabled, OperMauType. */
export const lldpXdot3RemPortColumns = [2, 4] as const;
/** lldpXdot3RemLinkAggStatus. */
export const lldpXdot3RemLinkAggColumns = [1] as const;
/** lldpXdot3RemMaxFrameSize. */
export const lldpXdot3RemMaxFrameSizeColumns = [1] as const;
/** lldpXMedRemHardwareRev, FirmwareRev, SoftwareRev, SerialNum, MfgName, ModelName, AssetID. */
export const lldpXMedRemInventoryColumns = [1, 2, 3, 4, 5, 6, 7] as const;

/** What a neighbour says of its own port, and of what it is. What it does not say is absent. */
export interface ToldByNeighbour {
  /** PVID of its port */
  vlan?: number;
  /** VLANs it has a name for at its port, with it */
  vlanNames?: { vlan: number; name: string }[];
  /** VLANs by protocol that are at work at its port */
  protocolVlans?: number[];
  /** it takes power over its port, of this class; or gives it */
  power?: { takes: boolean; class: number | null };
  autoNegotiation?: boolean;
  /** number of IANAifMauType (RFC 4836) that it works by */
  mauType?: number;
  /** it counts its port into an aggregate */
  aggregated?: boolean;
  /** the longest frame it takes, in octets, with its head and check */
  maxFrame?: number;
  vendor?: string;
  model?: string;
  serial?: string;
  hardwareRevision?: string;
  firmwareRevision?: string;
  softwareRevision?: string;
  assetId?: string;
}

const truthTrue = 1;

/** Rows that have a VLAN behind the index of their neighbour, by neighbour. */
function byNeighbour<Row>(
  entry: string,
  answered: Answered,
  read: (vlan: number, cells: Cells) => Row,
): [index: number[], rows: Row[]][] {
  const found = new Map<string, [number[], Row[]]>();
  for (const { index, cells } of tableRows(entry, answered)) {
    const vlan = index[3];
    if (index.length !== 4 || vlan === undefined || vlan < 1 || vlan > 4094) continue;
    const neighbour = index.slice(0, 3);
    const key = neighbour.join('.');
    const known = found.get(key) ?? [neighbour, []];
    known[1].push(read(vlan, cells));
    found.set(key, known);
  }
  return [...found.values()];
}
/** LldpXdot3LinkAggStatusMap: aggregationCapable(0), aggregationEnabled(1), the highest bit first. */
const aggregationEnabled = 0x40;

/** By the index of lldpRemTable, joined with points: time mark, local port number, number of the neighbour. */
export function parseLldpExtensions(answered: Answered): Map<string, ToldByNeighbour> {
  const found = new Map<string, ToldByNeighbour>();
  const add = (index: number[], told: ToldByNeighbour) => {
    const key = index.join('.');
    const known = Object.fromEntries(Object.entries(told).filter(([, value]) => value !== undefined && value !== ''));
    if (index.length === 3 && Object.keys(known).length > 0) found.set(key, { ...found.get(key), ...known });
  };
  for (const { index, cells } of tableRows(lldpExtensionTables.lldpXdot1RemEntry, answered)) {
    const vlan = numberOf(cells.get(1));
    // 0 says that the port has no VLAN of its own, or does not tell (IEEE 802.1AB, F.2.1)
    if (vlan !== undefined && vlan >= 1 && vlan <= 4094) add(index, { vlan });
  }
  for (const [key, vlanNames] of byNeighbour(
    lldpExtensionTables.lldpXdot1RemVlanNameEntry,
    answered,
    (vlan, cells) => ({
      vlan,
      name: textOf(cells.get(2)) ?? '',
    }),
  ))
    add(key, { vlanNames });
  for (const [key, all] of byNeighbour(lldpExtensionTables.lldpXdot1RemProtoVlanEntry, answered, (vlan, cells) =>
    numberOf(cells.get(3)) === truthTrue ? vlan : null,
  )) {
    const protocolVlans = all.filter((vlan) => vlan !== null);
    if (protocolVlans.length > 0) add(key, { protocolVlans });
  }
  for (const { index, cells } of tableRows(lldpExtensionTables.lldpXdot3RemPowerEntry, answered)) {
    const [portClass, powerClass] = [numberOf(cells.get(1)), numberOf(cells.get(6))];
    // pClassPSE(1), pClassPD(2); class0(1) to class4(5)
    if (portClass === 1 || portClass === 2)
      add(index, {
        power: {
          takes: portClass === 2,
          class: powerClass !== undefined && powerClass >= 1 && powerClass <= 5 ? powerClass - 1 : null,
        },
      });
  }
  for (const { index, cells } of tableRows(lldpExtensionTables.lldpXdot3RemPortEntry, answered)) {
    const enabled = numberOf(cells.get(2));
    const mauType = numberOf(cells.get(4));
    add(index, {
      ...(enabled !== undefined && { autoNegotiation: enabled === truthTrue }),
      ...(mauType && { mauType }),
    });
  }
  for (const { index, cells } of tableRows(lldpExtensionTables.lldpXdot3RemLinkAggEntry, answered)) {
    const [bits] = octetsOfValue(cells.get(1)) ?? [];
    if (bits !== undefined) add(index, { aggregated: (bits & aggregationEnabled) !== 0 });
  }
  for (const { index, cells } of tableRows(lldpExtensionTables.lldpXdot3RemMaxFrameSizeEntry, answered)) {
    const maxFrame = numberOf(cells.get(1));
    if (maxFrame) add(index, { maxFrame });
  }
  for (const { index, cells } of tableRows(lldpExtensionTables.lldpXMedRemInventoryEntry, answered)) {
    const text = (column: number) => textOf(cells.get(column)) ?? '';
    add(index, {
      hardwareRevision: text(1),
      firmwareRevision: text(2),
      softwareRevision: text(3),
      serial: text(4),
      vendor: text(5),
      model: text(6),
      assetId: text(7),
    });
  }
  return found;
}
