import { addressFromOctets, addressOrNull } from '../values/ipAddress';
import { macFromOctets, parseMac } from '../values/mac';
import { lengthPrefixed, scalar, tableRows, type Answered } from './table';
import { numberOf, octetsOfValue, textOf, type SnmpValue } from './varbind';

/** LLDP-MIB (IEEE 802.1AB-2005). */
export const lldpTables = {
  lldpLocChassisIdSubtype: '1.0.8802.1.1.2.1.3.1',
  lldpLocChassisId: '1.0.8802.1.1.2.1.3.2',
  lldpLocPortEntry: '1.0.8802.1.1.2.1.3.7.1',
  lldpRemEntry: '1.0.8802.1.1.2.1.4.1.1',
  lldpRemManAddrEntry: '1.0.8802.1.1.2.1.4.2.1',
  /** LLDP-EXT-MED-MIB (ANSI/TIA-1057): what is offered to phones and the like, by port and application */
  lldpXMedLocMediaPolicyEntry: '1.0.8802.1.1.2.1.5.4795.1.2.1.1',
} as const;

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
}

export interface Lldp {
  chassisIdSubtype: ChassisIdSubtype;
  chassisId: string;
  localPorts: LldpLocalPort[];
  neighbours: LldpNeighbour[];
  /** lldpLocPortNum → the VLAN offered for voice */
  voiceVlans?: Map<number, number>;
}

/** Local and remote tables with management addresses, or null if the agent does not speak LLDP. */
export function parseLldp(answered: Answered): Lldp | null {
  const chassis = scalar(lldpTables.lldpLocChassisId, answered);
  const localPorts = tableRows(lldpTables.lldpLocPortEntry, answered).map(({ index, cells }) => {
    const portIdSubtype = portIdSubtypes[numberOf(cells.get(2)) ?? 0] ?? 'unknown';
    return {
      portNumber: index[0] ?? 0,
      portIdSubtype,
      portId: identifier(portIdSubtype, cells.get(3)),
      description: textOf(cells.get(4)) ?? '',
    };
  });
  const chassisIdSubtype =
    chassisIdSubtypes[numberOf(scalar(lldpTables.lldpLocChassisIdSubtype, answered)) ?? 0] ?? 'unknown';
  const addresses = managementAddresses(answered);
  const neighbours = tableRows(lldpTables.lldpRemEntry, answered)
    .filter(({ index }) => index.length === 3)
    .map(({ index, cells }) => {
      const remoteChassis = chassisIdSubtypes[numberOf(cells.get(4)) ?? 0] ?? 'unknown';
      const remotePort = portIdSubtypes[numberOf(cells.get(6)) ?? 0] ?? 'unknown';
      return {
        localPortNumber: index[1] ?? 0,
        chassisIdSubtype: remoteChassis,
        chassisId: identifier(remoteChassis, cells.get(5)),
        portIdSubtype: remotePort,
        portId: identifier(remotePort, cells.get(7)),
        portDescription: textOf(cells.get(8)) ?? '',
        systemName: textOf(cells.get(9)) ?? '',
        systemDescription: textOf(cells.get(10)) ?? '',
        capabilities: capabilities(octetsOfValue(cells.get(12)) ?? octetsOfValue(cells.get(11))),
        managementAddresses: addresses.get(index.join('.')) ?? [],
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
    neighbours,
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

/** Index of lldpRemManAddrTable: time mark, local port, remote index, address family, length, octets. */
function managementAddresses(answered: Answered): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const { index } of tableRows(lldpTables.lldpRemManAddrEntry, answered)) {
    const octets = lengthPrefixed(index, 4);
    const address = octets && addressFromOctets(octets.part);
    if (!address) continue;
    const key = index.slice(0, 3).join('.');
    const list = found.get(key) ?? [];
    if (!list.includes(address)) list.push(address);
    found.set(key, list);
  }
  return found;
}
