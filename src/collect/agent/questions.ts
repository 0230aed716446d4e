import type { HarvestPart } from '../../core/estate/harvest';
import { alarmActiveColumns, alarmTables } from '../../core/mib/alarm';
import { bgpPeerColumns, bgpTables } from '../../core/mib/bgp';
import { bridgeTables, tellsPort } from '../../core/mib/bridge';
import { entityTables, entPhysicalColumns } from '../../core/mib/entity';
import { entityStateTables, entStateColumns } from '../../core/mib/entityState';
import { hrSystemDate } from '../../core/mib/systemDate';
import { hostTables, hrDeviceColumns } from '../../core/mib/host';
import { hostSoftwareTables, hrSWInstalledColumns, hrSWRunColumns } from '../../core/mib/hostSoftware';
import {
  ieee8021BridgeBaseColumns,
  ieee8021Family,
  ieee8021SpanningTreeColumns,
  ieeeBridgeTables,
  ieeeTableOf,
} from '../../core/mib/ieeeBridge';
import { dot3adAggPortColumns, ifColumns, ifXColumns, interfaceTables, lacksMembers } from '../../core/mib/interfaces';
import { ipTables } from '../../core/mib/ip';
import { isisCircColumns, isisFamily, isisISAdjColumns, isisTables } from '../../core/mib/isis';
import { l3vpnTables, mplsL3VpnIfConfColumns } from '../../core/mib/l3vpn';
import {
  lldpLocPortColumns,
  lldpRemColumns,
  lldpRemManAddrColumns,
  lldpTables,
  lldpV2LocalColumns,
  lldpV2RemColumns,
  mediaPolicyColumns,
} from '../../core/mib/lldp';
import {
  lldpExtensionFamily,
  lldpExtensionTables,
  lldpXdot1RemColumns,
  lldpXdot1RemProtoVlanColumns,
  lldpXdot1RemVlanNameColumns,
  lldpXdot3RemLinkAggColumns,
  lldpXdot3RemMaxFrameSizeColumns,
  lldpXdot3RemPortColumns,
  lldpXdot3RemPowerColumns,
  lldpXMedRemInventoryColumns,
} from '../../core/mib/lldpExtensions';
import { ifMauColumns, mauTables } from '../../core/mib/mau';
import { ospfNbrColumns, ospfTables, ospfv3NbrColumns } from '../../core/mib/ospf';
import { dot1xAuthConfigColumns, portAccessTables } from '../../core/mib/portAccess';
import { pethMainPseColumns, pethPsePortColumns, powerEthernetTables } from '../../core/mib/powerEthernet';
import {
  printerFamily,
  printerTables,
  prtAlertColumns,
  prtGeneralColumns,
  prtMarkerSuppliesColumns,
} from '../../core/mib/printer';
import {
  inetCidrRouteColumns,
  ipCidrRouteColumns,
  ipRouteColumns,
  routeCount,
  routeTables,
} from '../../core/mib/routes';
import { entPhySensorColumns, sensorTables } from '../../core/mib/sensor';
import {
  dot1dStpExtPortColumns,
  ieee8021MstpCistPortColumns,
  spanningTreeRoleTables,
} from '../../core/mib/spanningTreeRoles';
import { tcpConnColumns, transportTables, udpColumns } from '../../core/mib/transport';
import { tableRows, type Answers } from '../../core/mib/table';
import {
  upsAlarmColumns,
  upsFamily,
  upsInputColumns,
  upsObjects,
  upsOutputColumns,
  upsTables,
} from '../../core/mib/ups';
import { vmColumns, vmNetworkColumns, vmTables } from '../../core/mib/virtualMachines';
import {
  vrrpAssoIpAddrColumns,
  vrrpFamily,
  vrrpOperColumns,
  vrrpTables,
  vrrpv3AssociatedIpAddrColumns,
  vrrpv3Family,
  vrrpv3OperationsColumns,
} from '../../core/mib/vrrp';

/** A table of a part; `when` looks at what the part has answered so far and says whether it is still worth asking. */
export interface TableQuestion {
  entry: string;
  columns: readonly number[];
  when?: (soFar: Answers) => boolean;
  /** the subtree of seldom things it lies in: whether the agent has it is asked only where there is anything below */
  family?: string;
  /** the newer table that agents have in its place: whether the agent has this one is asked only where it lacks the newer */
  insteadOf?: string;
}

export interface PartQuestions {
  /** instances that are asked by name */
  instances?: string[];
  tables: TableQuestion[];
  /** the subtree of seldom things that the whole part lies in; its instances are asked only where there is anything below */
  family?: string;
}

/** Full tables of the Internet are nobody's inventory. */
export const mostRoutes = 20_000;

/** Instance names of scalar objects. */
const zero = (...objects: string[]) => objects.map((object) => `${object}.0`);
const nothingBelow = (entry: string) => (soFar: Answers) => tableRows(entry, soFar).length === 0;
/** Rows of the bridge itself, and those that name no port, place no machine. */
const noMachineIn = (entry: string) => (soFar: Answers) =>
  !tableRows(entry, soFar).some(({ cells }) => tellsPort(cells.get(2), cells.get(3)));
/** Neither the tables of the RFCs nor others tell of a bridge. */
const noBridgePorts = nothingBelow(bridgeTables.dot1dBasePortEntry);
const noVlans = (soFar: Answers) =>
  nothingBelow(bridgeTables.dot1qVlanCurrentEntry)(soFar) && nothingBelow(bridgeTables.dot1qVlanStaticEntry)(soFar);
const noNeighbours = nothingBelow(lldpTables.lldpRemEntry);
const hasNeighbours = (soFar: Answers) => !noNeighbours(soFar);
/** A table of IEEE 802.1 in place of one of the RFCs. */
const ieee = (rfcEntry: string, when: (soFar: Answers) => boolean): TableQuestion[] => {
  const table = ieeeTableOf[rfcEntry];
  return table ? [{ entry: table.entry, columns: [...table.columns.keys()], when, family: ieee8021Family }] : [];
};
/** Power over Ethernet, medium attachment units, what hosts tell of themselves. */
const [powerFamily, mauFamily, hostFamily, vmFamily] = [
  '1.3.6.1.2.1.105',
  '1.3.6.1.2.1.26',
  '1.3.6.1.2.1.25',
  '1.3.6.1.2.1.236',
];
const of = (family: string, tables: TableQuestion[]): TableQuestion[] => tables.map((table) => ({ ...table, family }));
const routesAreFew = (soFar: Answers) => (routeCount(soFar) ?? 0) <= mostRoutes;

/** What each part asks. Tables of one part are asked one after the other; parts run side by side. */
export const questions: Record<
  Exclude<HarvestPart, 'system' | 'private' | 'contexts' | 'wireless' | 'told' | 'security'>,
  PartQuestions
> = {
  interfaces: {
    tables: [
      { entry: interfaceTables.ifEntry, columns: ifColumns },
      { entry: interfaceTables.ifXEntry, columns: ifXColumns },
      { entry: interfaceTables.dot3StatsEntry, columns: [19] },
      { entry: interfaceTables.dot3adAggPortEntry, columns: dot3adAggPortColumns },
      {
        entry: interfaceTables.ifStackEntry,
        columns: [3],
        when: lacksMembers,
        insteadOf: interfaceTables.dot3adAggPortEntry,
      },
      ...of(mauFamily, [
        { entry: mauTables.ifMauEntry, columns: ifMauColumns },
        { entry: mauTables.ifMauAutoNegEntry, columns: [1] },
      ]),
    ],
  },
  modules: {
    tables: [
      { entry: entityTables.entPhysicalEntry, columns: entPhysicalColumns },
      { entry: entityTables.entAliasMappingEntry, columns: [2] },
    ],
  },
  sensors: {
    tables: [
      { entry: sensorTables.entPhySensorEntry, columns: entPhySensorColumns },
      { entry: entityStateTables.entStateEntry, columns: entStateColumns },
    ],
  },
  addresses: {
    tables: [
      { entry: ipTables.ipAddressEntry, columns: [3, 4, 5, 7] },
      // also where the newer one has the address: only this one tells every mask
      { entry: ipTables.ipAddrEntry, columns: [2, 3] },
      { entry: l3vpnTables.mplsL3VpnIfConfEntry, columns: mplsL3VpnIfConfColumns },
    ],
  },
  neighbourAddresses: {
    tables: [
      { entry: ipTables.ipNetToPhysicalEntry, columns: [4, 6, 7] },
      // both: some agents put a part of what they know into each
      { entry: ipTables.ipNetToMediaEntry, columns: [2, 4] },
    ],
  },
  bridge: {
    instances: zero(
      bridgeTables.dot1dBaseBridgeAddress,
      bridgeTables.dot1dStpDesignatedRoot,
      bridgeTables.dot1dStpRootPort,
    ),
    tables: [
      { entry: bridgeTables.dot1dBasePortEntry, columns: [2] },
      { entry: bridgeTables.dot1qVlanCurrentEntry, columns: [3, 4, 5] },
      { entry: bridgeTables.dot1qVlanStaticEntry, columns: [1, 5] },
      {
        entry: bridgeTables.dot1qVlanStaticEntry,
        columns: [2, 4],
        when: nothingBelow(bridgeTables.dot1qVlanCurrentEntry),
      },
      { entry: bridgeTables.dot1qPortVlanEntry, columns: [1] },
      { entry: bridgeTables.dot1dStpPortEntry, columns: [3, 8, 9] },
      { entry: bridgeTables.dot1qTpFdbEntry, columns: [2, 3] },
      { entry: bridgeTables.dot1dTpFdbEntry, columns: [2, 3], when: noMachineIn(bridgeTables.dot1qTpFdbEntry) },
      { entry: spanningTreeRoleTables.dot1dStpExtPortEntry, columns: dot1dStpExtPortColumns },
      ...of(ieee8021Family, [
        { entry: ieeeBridgeTables.ieee8021BridgeBaseEntry, columns: ieee8021BridgeBaseColumns, when: noBridgePorts },
        {
          entry: ieeeBridgeTables.ieee8021SpanningTreeEntry,
          columns: ieee8021SpanningTreeColumns,
          when: noBridgePorts,
        },
        { entry: spanningTreeRoleTables.ieee8021MstpCistPortEntry, columns: ieee8021MstpCistPortColumns },
      ]),
      ...ieee(bridgeTables.dot1dBasePortEntry, noBridgePorts),
      ...ieee(bridgeTables.dot1qVlanCurrentEntry, noVlans),
      ...ieee(bridgeTables.dot1qVlanStaticEntry, noVlans),
      ...ieee(bridgeTables.dot1qPortVlanEntry, nothingBelow(bridgeTables.dot1qPortVlanEntry)),
      ...ieee(bridgeTables.dot1dStpPortEntry, nothingBelow(bridgeTables.dot1dStpPortEntry)),
      ...ieee(
        bridgeTables.dot1qTpFdbEntry,
        (soFar) =>
          nothingBelow(bridgeTables.dot1qTpFdbEntry)(soFar) && nothingBelow(bridgeTables.dot1dTpFdbEntry)(soFar),
      ),
    ],
  },
  lldp: {
    instances: zero(lldpTables.lldpLocChassisIdSubtype, lldpTables.lldpLocChassisId),
    tables: [
      { entry: lldpTables.lldpLocPortEntry, columns: lldpLocPortColumns },
      { entry: lldpTables.lldpRemEntry, columns: lldpRemColumns },
      { entry: lldpTables.lldpRemManAddrEntry, columns: lldpRemManAddrColumns },
      ...of(lldpExtensionFamily, [
        { entry: lldpTables.lldpXMedLocMediaPolicyEntry, columns: mediaPolicyColumns },
        { entry: lldpExtensionTables.lldpXdot1RemEntry, columns: lldpXdot1RemColumns, when: hasNeighbours },
        {
          entry: lldpExtensionTables.lldpXdot1RemVlanNameEntry,
          columns: lldpXdot1RemVlanNameColumns,
          when: hasNeighbours,
        },
        {
          entry: lldpExtensionTables.lldpXdot1RemProtoVlanEntry,
          columns: lldpXdot1RemProtoVlanColumns,
          when: hasNeighbours,
        },
        { entry: lldpExtensionTables.lldpXdot3RemPowerEntry, columns: lldpXdot3RemPowerColumns, when: hasNeighbours },
        { entry: lldpExtensionTables.lldpXdot3RemPortEntry, columns: lldpXdot3RemPortColumns, when: hasNeighbours },
        {
          entry: lldpExtensionTables.lldpXdot3RemLinkAggEntry,
          columns: lldpXdot3RemLinkAggColumns,
          when: hasNeighbours,
        },
        {
          entry: lldpExtensionTables.lldpXdot3RemMaxFrameSizeEntry,
          columns: lldpXdot3RemMaxFrameSizeColumns,
          when: hasNeighbours,
        },
        {
          entry: lldpExtensionTables.lldpXMedRemInventoryEntry,
          columns: lldpXMedRemInventoryColumns,
          when: hasNeighbours,
        },
      ]),
      ...of(ieee8021Family, [
        { entry: lldpTables.lldpV2LocalData, columns: lldpV2LocalColumns, when: noNeighbours },
        { entry: lldpTables.lldpV2LocPortEntry, columns: lldpLocPortColumns, when: noNeighbours },
        { entry: lldpTables.lldpV2RemEntry, columns: lldpV2RemColumns, when: noNeighbours },
        { entry: lldpTables.lldpV2RemManAddrEntry, columns: lldpRemManAddrColumns, when: noNeighbours },
      ]),
    ],
  },
  power: {
    tables: of(powerFamily, [
      { entry: powerEthernetTables.pethPsePortEntry, columns: pethPsePortColumns },
      { entry: powerEthernetTables.pethMainPseEntry, columns: pethMainPseColumns },
    ]),
  },
  host: {
    instances: zero(hostTables.hrMemorySize, hostTables.hrSystemUptime, hrSystemDate),
    tables: of(hostFamily, [
      { entry: hostTables.hrStorageEntry, columns: [2, 3, 4, 5, 6] },
      { entry: hostTables.hrDeviceEntry, columns: hrDeviceColumns },
    ]),
  },
  services: {
    tables: [
      { entry: transportTables.tcpListenerEntry, columns: [4] },
      { entry: transportTables.udpEndpointEntry, columns: [8] },
      { entry: transportTables.tcpConnectionEntry, columns: [7, 8] },
      {
        entry: transportTables.tcpConnEntry,
        columns: tcpConnColumns,
        when: (soFar) =>
          nothingBelow(transportTables.tcpListenerEntry)(soFar) &&
          nothingBelow(transportTables.tcpConnectionEntry)(soFar),
        insteadOf: transportTables.tcpListenerEntry,
      },
      {
        entry: transportTables.udpEntry,
        columns: udpColumns,
        when: nothingBelow(transportTables.udpEndpointEntry),
        insteadOf: transportTables.udpEndpointEntry,
      },
      { entry: hostSoftwareTables.hrSWRunEntry, columns: hrSWRunColumns, family: hostFamily },
    ],
  },
  software: {
    tables: [{ entry: hostSoftwareTables.hrSWInstalledEntry, columns: hrSWInstalledColumns, family: hostFamily }],
  },
  routing: {
    instances: zero(routeTables.inetCidrRouteNumber, routeTables.ipCidrRouteNumber, bgpTables.bgpLocalAs),
    tables: [
      { entry: routeTables.inetCidrRouteEntry, columns: inetCidrRouteColumns, when: routesAreFew },
      {
        entry: routeTables.ipCidrRouteEntry,
        columns: ipCidrRouteColumns,
        when: (soFar) => routesAreFew(soFar) && nothingBelow(routeTables.inetCidrRouteEntry)(soFar),
        insteadOf: routeTables.inetCidrRouteEntry,
      },
      {
        entry: routeTables.ipRouteEntry,
        columns: ipRouteColumns,
        when: (soFar) =>
          routesAreFew(soFar) &&
          nothingBelow(routeTables.inetCidrRouteEntry)(soFar) &&
          nothingBelow(routeTables.ipCidrRouteEntry)(soFar),
        insteadOf: routeTables.inetCidrRouteEntry,
      },
      { entry: bgpTables.bgpPeerEntry, columns: bgpPeerColumns },
      { entry: ospfTables.ospfNbrEntry, columns: ospfNbrColumns },
      { entry: ospfTables.ospfv3NbrEntry, columns: ospfv3NbrColumns },
      ...of(isisFamily, [
        { entry: isisTables.isisISAdjEntry, columns: isisISAdjColumns },
        { entry: isisTables.isisCircEntry, columns: isisCircColumns },
      ]),
    ],
  },
  machines: {
    family: vmFamily,
    instances: zero(vmTables.vmHvSoftware, vmTables.vmHvVersion),
    tables: of(vmFamily, [
      { entry: vmTables.vmEntry, columns: vmColumns },
      { entry: vmTables.vmNetworkEntry, columns: vmNetworkColumns },
    ]),
  },
  standby: {
    tables: [
      ...of(vrrpFamily, [
        { entry: vrrpTables.vrrpOperEntry, columns: vrrpOperColumns },
        { entry: vrrpTables.vrrpAssoIpAddrEntry, columns: vrrpAssoIpAddrColumns },
      ]),
      ...of(vrrpv3Family, [
        { entry: vrrpTables.vrrpv3OperationsEntry, columns: vrrpv3OperationsColumns },
        { entry: vrrpTables.vrrpv3AssociatedIpAddrEntry, columns: vrrpv3AssociatedIpAddrColumns },
      ]),
    ],
  },
  portAccess: { tables: [{ entry: portAccessTables.dot1xAuthConfigEntry, columns: dot1xAuthConfigColumns }] },
  alarms: { tables: [{ entry: alarmTables.alarmActiveEntry, columns: alarmActiveColumns }] },
  ups: {
    family: upsFamily,
    instances: zero(...Object.values(upsObjects)),
    tables: of(upsFamily, [
      { entry: upsTables.upsInputEntry, columns: upsInputColumns },
      { entry: upsTables.upsOutputEntry, columns: upsOutputColumns },
      { entry: upsTables.upsAlarmEntry, columns: upsAlarmColumns },
    ]),
  },
  printer: {
    tables: of(printerFamily, [
      { entry: printerTables.prtGeneralEntry, columns: prtGeneralColumns },
      { entry: printerTables.prtMarkerSuppliesEntry, columns: prtMarkerSuppliesColumns },
      { entry: printerTables.prtAlertEntry, columns: prtAlertColumns },
    ]),
  },
};

/** What is asked of each further context: a virtual router's addresses and routes, a VLAN's forwarding table. */
export const contextTables: TableQuestion[] = [
  { entry: ipTables.ipAddressEntry, columns: [3, 4, 5, 7] },
  { entry: ipTables.ipAddrEntry, columns: [2, 3] },
  { entry: ipTables.ipNetToPhysicalEntry, columns: [4, 6, 7] },
  { entry: ipTables.ipNetToMediaEntry, columns: [2, 4] },
  { entry: routeTables.inetCidrRouteEntry, columns: inetCidrRouteColumns },
  {
    entry: routeTables.ipCidrRouteEntry,
    columns: ipCidrRouteColumns,
    when: nothingBelow(routeTables.inetCidrRouteEntry),
  },
  { entry: bridgeTables.dot1dBasePortEntry, columns: [2] },
  { entry: bridgeTables.dot1dTpFdbEntry, columns: [2, 3] },
];
