import type { HarvestPart } from '../../core/estate/harvest';
import { bgpPeerColumns, bgpTables } from '../../core/mib/bgp';
import { bridgeTables, tellsPort } from '../../core/mib/bridge';
import { entityTables, entPhysicalColumns } from '../../core/mib/entity';
import { entityStateTables, entStateColumns } from '../../core/mib/entityState';
import { hrSystemDate } from '../../core/mib/systemDate';
import { hostTables } from '../../core/mib/host';
import { hostSoftwareTables, hrSWInstalledColumns, hrSWRunColumns } from '../../core/mib/hostSoftware';
import { dot3adAggPortColumns, ifColumns, ifXColumns, interfaceTables, lacksMembers } from '../../core/mib/interfaces';
import { ipTables } from '../../core/mib/ip';
import { lldpTables, mediaPolicyColumns } from '../../core/mib/lldp';
import { ifMauColumns, mauTables } from '../../core/mib/mau';
import { ospfNbrColumns, ospfTables } from '../../core/mib/ospf';
import { pethMainPseColumns, pethPsePortColumns, powerEthernetTables } from '../../core/mib/powerEthernet';
import { inetCidrRouteColumns, ipCidrRouteColumns, routeCount, routeTables } from '../../core/mib/routes';
import { entPhySensorColumns, sensorTables } from '../../core/mib/sensor';
import { transportTables } from '../../core/mib/transport';
import { tableRows, type Answers } from '../../core/mib/table';
import { vmColumns, vmNetworkColumns, vmTables } from '../../core/mib/virtualMachines';

/** A table of a part; `when` looks at what the part has answered so far and says whether it is still worth asking. */
export interface TableQuestion {
  entry: string;
  columns: readonly number[];
  when?: (soFar: Answers) => boolean;
}

export interface PartQuestions {
  /** instances that are asked by name */
  instances?: string[];
  tables: TableQuestion[];
}

/** Full tables of the Internet are nobody's inventory. */
export const mostRoutes = 20_000;

/** Instance names of scalar objects. */
const zero = (...objects: string[]) => objects.map((object) => `${object}.0`);
const nothingBelow = (entry: string) => (soFar: Answers) => tableRows(entry, soFar).length === 0;
/** The newer table holds IPv4 too, unless its agent put only IPv6 there: type 1, four octets, behind the interface. */
const noIpv4In = (entry: string) => (soFar: Answers) =>
  !tableRows(entry, soFar).some(({ index }) => index[1] === 1 && index[2] === 4);
/** Rows of the bridge itself, and those that name no port, place no machine. */
const noMachineIn = (entry: string) => (soFar: Answers) =>
  !tableRows(entry, soFar).some(({ cells }) => tellsPort(cells.get(2), cells.get(3)));
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
      { entry: interfaceTables.ifStackEntry, columns: [3], when: lacksMembers },
      { entry: mauTables.ifMauEntry, columns: ifMauColumns },
      { entry: mauTables.ifMauAutoNegEntry, columns: [1] },
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
    ],
  },
  neighbourAddresses: {
    tables: [
      { entry: ipTables.ipNetToPhysicalEntry, columns: [4, 6, 7] },
      { entry: ipTables.ipNetToMediaEntry, columns: [2, 4], when: noIpv4In(ipTables.ipNetToPhysicalEntry) },
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
    ],
  },
  lldp: {
    instances: zero(lldpTables.lldpLocChassisIdSubtype, lldpTables.lldpLocChassisId),
    tables: [
      { entry: lldpTables.lldpLocPortEntry, columns: [2, 3, 4] },
      { entry: lldpTables.lldpRemEntry, columns: [4, 5, 6, 7, 8, 9, 10, 11, 12] },
      { entry: lldpTables.lldpRemManAddrEntry, columns: [3] },
      { entry: lldpTables.lldpXMedLocMediaPolicyEntry, columns: mediaPolicyColumns },
    ],
  },
  power: {
    tables: [
      { entry: powerEthernetTables.pethPsePortEntry, columns: pethPsePortColumns },
      { entry: powerEthernetTables.pethMainPseEntry, columns: pethMainPseColumns },
    ],
  },
  host: {
    instances: zero(hostTables.hrMemorySize, hrSystemDate),
    tables: [
      { entry: hostTables.hrStorageEntry, columns: [2, 3, 4, 5, 6] },
      { entry: hostTables.hrDeviceEntry, columns: [2, 3] },
    ],
  },
  services: {
    tables: [
      { entry: transportTables.tcpListenerEntry, columns: [4] },
      { entry: transportTables.udpEndpointEntry, columns: [8] },
      { entry: transportTables.tcpConnectionEntry, columns: [7, 8] },
      { entry: hostSoftwareTables.hrSWRunEntry, columns: hrSWRunColumns },
    ],
  },
  software: { tables: [{ entry: hostSoftwareTables.hrSWInstalledEntry, columns: hrSWInstalledColumns }] },
  routing: {
    instances: zero(routeTables.inetCidrRouteNumber, routeTables.ipCidrRouteNumber, bgpTables.bgpLocalAs),
    tables: [
      { entry: routeTables.inetCidrRouteEntry, columns: inetCidrRouteColumns, when: routesAreFew },
      {
        entry: routeTables.ipCidrRouteEntry,
        columns: ipCidrRouteColumns,
        when: (soFar) => routesAreFew(soFar) && nothingBelow(routeTables.inetCidrRouteEntry)(soFar),
      },
      { entry: bgpTables.bgpPeerEntry, columns: bgpPeerColumns },
      { entry: ospfTables.ospfNbrEntry, columns: ospfNbrColumns },
    ],
  },
  machines: {
    instances: zero(vmTables.vmHvSoftware, vmTables.vmHvVersion),
    tables: [
      { entry: vmTables.vmEntry, columns: vmColumns },
      { entry: vmTables.vmNetworkEntry, columns: vmNetworkColumns },
    ],
  },
};

/** What is asked of each further context: a virtual router's addresses and routes, a VLAN's forwarding table. */
export const contextTables: TableQuestion[] = [
  { entry: ipTables.ipAddressEntry, columns: [3, 4, 5, 7] },
  { entry: ipTables.ipAddrEntry, columns: [2, 3] },
  { entry: ipTables.ipNetToPhysicalEntry, columns: [4, 6, 7] },
  { entry: ipTables.ipNetToMediaEntry, columns: [2, 4], when: noIpv4In(ipTables.ipNetToPhysicalEntry) },
  { entry: routeTables.inetCidrRouteEntry, columns: inetCidrRouteColumns },
  {
    entry: routeTables.ipCidrRouteEntry,
    columns: ipCidrRouteColumns,
    when: nothingBelow(routeTables.inetCidrRouteEntry),
  },
  { entry: bridgeTables.dot1dBasePortEntry, columns: [2] },
  { entry: bridgeTables.dot1dTpFdbEntry, columns: [2, 3] },
];
