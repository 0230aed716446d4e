import { addressFromOctets, addressOrNull } from '../values/ipAddress';
import { macFromOctets, parseMac } from '../values/mac';
import { parseLldpExtensions, type ToldByNeighbour } from './lldpExtensions';
import { lengthPrefixed, scalar, tableRows, type Answered } from './table';
import { numberOf, octetsOfValue, textOf, type SnmpValue } from './varbind';

/** LLDP-MIB (IEEE 802.1AB-2005) and its successor LLDP-V2-MIB (IEEE 802.1AB-2009), which numbers ports by ifIndex and keeps neighbours apart by where frames go to. */
export const lldpTables = {
  lldpLocalData: '1.0.8802.1.1.2.1.3',
  lldpLocChassisIdSubtype: '1.0.8802.1.1.2.1.3.1',
  lldpLocChassisId: '1.0.8802.1.1.2.1.3.2',
  lldpLocPortEntry: '1.0.8802.1.1.2.1.3.7.1',
  lldpRemEntry: '1.0.8802.1.1.2.1.4.1.1',
  lldpRemManAddrEntry: '1.0.8802.1.1.2.1.4.2.1',
  /** LLDP-EXT-MED-MIB (ANSI/TIA-1057): what is offered to phones and the like, by port and application */
  lldpXMedLocMediaPolicyEntry: '1.0.8802.1.1.2.1.5.4795.1.2.1.1',
  /** single objects, read like a table of one row: it is seldom there */
  lldpV2LocalData: '1.3.111.2.802.1.1.13.1.3',
  lldpV2LocPortEntry: '1.3.111.2.802.1.1.13.1.3.7.1',
  lldpV2RemEntry: '1.3.111.2.802.1.1.13.1.4.1.1',
  lldpV2RemManAddrEntry: '1.3.111.2.802.1.1.13.1.4.2.1',
} as const;
/** lldpV2LocChassisIdSubtype, lldpV2LocChassisId. */
export const lldpV2LocalColumns = [1, 2] as const;

/** lldpLocPortIdSubtype, Id and Desc; the same in version 2. */
export const lldpLocPortColumns = [2, 3, 4] as const;
/** From lldpRemChassisIdSubtype to lldpRemSysCapEnabled. */
export const lldpRemColumns = [4, 5, 6, 7, 8, 9, 10, 11, 12] as const;
/** The same in version 2, which has one index more. */
export const lldpV2RemColumns = [5, 6, 7, 8, 9, 10, 11, 12, 13] as const;
/** lldpRemManAddrIfSubtype; the address itself stands in the index. */
export const lldpRemManAddrColumns = [3] as const;

export type ChassisIdSubtype =
  | 'component'
  | 'interfaceAlias'
  | 'portComponent'
  | 'macAddress'
  | 'networkAddress'
  | 'interfaceName'
  | 'local'
  | 'unknown';
export type PortIdSubtype =
  | 'interfaceAlias'
  | 'portComponent'
  | 'macAddress'
  | 'networkAddress'
  | 'interfaceName'
  | 'agentCircuitId'
  | 'local'
  | 'unknown';

const chassisIdSubtypes: ChassisIdSubtype[] = [
  'unknown',
  'component',
  'interfaceAlias',
  'portComponent',
  'macAddress',
  'networkAddress',
  'interfaceName',
  'local',
];
const portIdSubtypes: PortIdSubtype[] = [
  'unknown',
  'interfaceAlias',
  'portComponent',
  'macAddress',
  'networkAddress',
  'interfaceName',
  'agentCircuitId',
  'local',
];

/** LldpSystemCapabilitiesMap, high bit first. */
const capabilityNames = [
  'other',
  'repeater',
  'bridge',
  'wlanAccessPoint',
  'router',
  'telephone',
  'docsisCableDevice',
  'stationOnly',
] as const;
export type LldpCapability = (typeof capabilityNames)[number];

/** Columns lldpXMedLocMediaPolicyVlanID, -Unknown and -Tagged; application voice(1). */
export const mediaPolicyColumns = [2, 5, 6] as const;
const voice = 1;
const [truthTrue, truthFalse] = [1, 2];

export interface LldpLocalPort {
  /** lldpLocPortNum: not an ifIndex */
  portNumber: number;
  portIdSubtype: PortIdSubtype;
  portId: string;
  description: string;
}

export interface LldpNeighbour {
  localPortNumber: number;
  chassisIdSubtype: ChassisIdSubtype;
  chassisId: string;
  portIdSubtype: PortIdSubtype;
  portId: string;
  portDescription: string;
  systemName: string;
  systemDescription: string;
  capabilities: LldpCapability[];
  managementAddresses: string[];
  /** what it tells of its port and itself beside LLDP's own */
  told?: ToldByNeighbour;
}

export interface Lldp {
  chassisIdSubtype: ChassisIdSubtype;
  chassisId: string;
  localPorts: LldpLocalPort[];
  neighbours: LldpNeighbour[];
  /** port numbers are interface numbers, without a doubt (LLDP-V2-MIB) */
  byIfIndex?: true;
  /** lldpLocPortNum → the VLAN offered for voice */
  voiceVlans?: Map<number, number>;
}

/** Where a version of LLDP-MIB has what: `shift` columns and parts of an index further on than version 1. */
interface LldpVersion {
  shift: 0 | 1;
  /** its single objects: the subtype and the id of the chassis are the first two */
  localData: string;
  localPorts: string;
  remotes: string;
  managementAddresses: string;
}
const versions: LldpVersion[] = [
  {
    shift: 0,
    localData: lldpTables.lldpLocalData,
    localPorts: lldpTables.lldpLocPortEntry,
    remotes: lldpTables.lldpRemEntry,
    managementAddresses: lldpTables.lldpRemManAddrEntry,
  },
  {
    shift: 1,
    localData: lldpTables.lldpV2LocalData,
    localPorts: lldpTables.lldpV2LocPortEntry,
    remotes: lldpTables.lldpV2RemEntry,
    managementAddresses: lldpTables.lldpV2RemManAddrEntry,
  },
];

/** Local and remote tables with management addresses, or null if the agent does not speak LLDP. Version 1 of the MIB counts where it knows a neighbour, else the one that tells anything. */
export function parseLldp(answered: Answered): Lldp | null {
  const [older, newer] = versions.map((version) => parseVersion(answered, version));
  if (older && newer) return older.neighbours.length === 0 && newer.neighbours.length > 0 ? newer : older;
  return older ?? newer ?? null;
}

function parseVersion(answered: Answered, version: LldpVersion): Lldp | null {
  const { shift } = version;
  const single = tableRows(version.localData, answered).find(({ index }) => index.length === 1 && index[0] === 0);
  const local = (column: 1 | 2) => scalar(`${version.localData}.${column}`, answered) ?? single?.cells.get(column);
  const chassis = local(2);
  const localPorts = tableRows(version.localPorts, answered).map(({ index, cells }) => {
    const portIdSubtype = portIdSubtypes[numberOf(cells.get(2)) ?? 0] ?? 'unknown';
    return {
      portNumber: index[0] ?? 0,
      portIdSubtype,
      portId: identifier(portIdSubtype, cells.get(3)),
      description: textOf(cells.get(4)) ?? '',
    };
  });
  const chassisIdSubtype = chassisIdSubtypes[numberOf(local(1)) ?? 0] ?? 'unknown';
  const addresses = managementAddresses(answered, version);
  const extensions = shift === 0 ? parseLldpExtensions(answered) : new Map<string, ToldByNeighbour>();
  const neighbours = tableRows(version.remotes, answered)
    .filter(({ index }) => index.length === 3 + shift)
    .map(({ index, cells }) => {
      const remoteChassis = chassisIdSubtypes[numberOf(cells.get(4 + shift)) ?? 0] ?? 'unknown';
      const remotePort = portIdSubtypes[numberOf(cells.get(6 + shift)) ?? 0] ?? 'unknown';
      const told = extensions.get(index.join('.'));
      return {
        localPortNumber: index[1] ?? 0,
        chassisIdSubtype: remoteChassis,
        chassisId: identifier(remoteChassis, cells.get(5 + shift)),
        portIdSubtype: remotePort,
        portId: identifier(remotePort, cells.get(7 + shift)),
        portDescription: textOf(cells.get(8 + shift)) ?? '',
        systemName: textOf(cells.get(9 + shift)) ?? '',
        systemDescription: textOf(cells.get(10 + shift)) ?? '',
        capabilities: capabilities(octetsOfValue(cells.get(12 + shift)) ?? octetsOfValue(cells.get(11 + shift))),
        managementAddresses: addresses.get(index.join('.')) ?? [],
        ...(told && { told }),
      };
    });
  // neighbours without tables of its own are heard all the same
  if (!chassis && localPorts.length === 0 && neighbours.length === 0) return null;
  const voiceVlans = new Map(
    tableRows(lldpTables.lldpXMedLocMediaPolicyEntry, answered).flatMap(
      ({ index: [portNumber = 0, application], cells }) => {
        const vlan = numberOf(cells.get(2));
        return application === voice &&
          numberOf(cells.get(5)) !== truthTrue &&
          // untagged frames carry no VLAN: the one named is to be ignored (ANSI/TIA-1057 10.2.3.2)
          numberOf(cells.get(6)) !== truthFalse &&
          vlan !== undefined &&
          vlan >= 1 &&
          vlan <= 4094
          ? [[portNumber, vlan] as const]
          : [];
      },
    ),
  );
  return {
    chassisIdSubtype,
    chassisId: identifier(chassisIdSubtype, chassis),
    localPorts,
    neighbours: shift === 0 ? neighbours : onceEach(neighbours),
    ...(shift === 1 && { byIfIndex: true as const }),
    ...(voiceVlans.size > 0 && { voiceVlans }),
  };
}

/** An id of LLDP, of a chassis or a port: a value means something together with its subtype alone. */
export const lldpKey = (subtype: string, id: string): string => `${subtype} ${id}`;

/** The subtype decides what the octets mean: a MAC, an address behind its IANA family octet, or text. Some agents write MACs and addresses as text. */
function identifier(subtype: ChassisIdSubtype | PortIdSubtype, value: SnmpValue | undefined): string {
  const octets = octetsOfValue(value);
  if (!octets) return textOf(value) ?? '';
  const text = textOf(value) ?? '';
  if (subtype === 'macAddress') return macFromOctets(octets) ?? parseMac(text) ?? text;
  if (subtype === 'networkAddress') return addressFromOctets(octets.slice(1)) ?? addressOrNull(text) ?? text;
  return text;
}

function capabilities(octets: Uint8Array | undefined): LldpCapability[] {
  const first = octets?.[0] ?? 0;
  return capabilityNames.filter((_, bit) => first & (0x80 >> bit));
}

/** Version 2 keeps what one neighbour sends to several group addresses apart: it is one neighbour all the same. */
function onceEach(neighbours: LldpNeighbour[]): LldpNeighbour[] {
  const seen = new Set<string>();
  return neighbours.filter(({ localPortNumber, chassisIdSubtype, chassisId, portIdSubtype, portId }) => {
    const key = JSON.stringify([localPortNumber, chassisIdSubtype, chassisId, portIdSubtype, portId]);
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

/** Index of lldpRemManAddrTable: that of the neighbour, then address family, length, octets. */
function managementAddresses(answered: Answered, version: LldpVersion): Map<string, string[]> {
  const found = new Map<string, string[]>();
  const width = 3 + version.shift;
  for (const { index } of tableRows(version.managementAddresses, answered)) {
    const octets = lengthPrefixed(index, width + 1);
    const address = octets && addressFromOctets(octets.part);
    if (!address) continue;
    const key = index.slice(0, width).join('.');
    const list = found.get(key) ?? [];
    if (!list.includes(address)) list.push(address);
    found.set(key, list);
  }
  return found;
}
