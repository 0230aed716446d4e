import type { ReadingValue } from './facts';
import type { ExtraFact } from '../signatures/signature';
import type { ActiveAlarm } from '../mib/alarm';
import type { BgpPeer } from '../mib/bgp';
import type { Bridge } from '../mib/bridge';
import type { PhysicalRow } from '../mib/entity';
import type { EntityStateRow } from '../mib/entityState';
import type { HostResources } from '../mib/host';
import type { InstalledSoftware, RunningProcess } from '../mib/hostSoftware';
import type { InterfaceRow } from '../mib/interfaces';
import type { InterfaceAddress, NeighbourAddress } from '../mib/ip';
import type { IsisNeighbour } from '../mib/isis';
import type { Lldp } from '../mib/lldp';
import type { OspfNeighbour } from '../mib/ospf';
import type { PoweringPort, PowerGroup } from '../mib/powerEthernet';
import type { PortAccess } from '../mib/portAccess';
import type { Printer } from '../mib/printer';
import type { RouteRow } from '../mib/routes';
import type { SensorRow } from '../mib/sensor';
import type { SystemGroup } from '../mib/system';
import type { Connection, Listener } from '../mib/transport';
import type { Ups } from '../mib/ups';
import type { Hypervisor } from '../mib/virtualMachines';
import type { VirtualRouter } from '../mib/vrrp';

/** The parts a device is asked for. Each is covered, or named as missing, on its own. */
export const harvestParts = [
  'system',
  'interfaces',
  'modules',
  'sensors',
  'addresses',
  'neighbourAddresses',
  'bridge',
  'lldp',
  'host',
  'power',
  'services',
  'software',
  'routing',
  'machines',
  'standby',
  'portAccess',
  'alarms',
  'ups',
  'printer',
  'contexts',
  'wireless',
  'told',
  'security',
  'private',
] as const;
export type HarvestPart = (typeof harvestParts)[number];

/** Words for a part, as shown to a person. */
export const partWords: Record<HarvestPart, string> = {
  system: 'system',
  interfaces: 'ports',
  modules: 'modules',
  sensors: 'sensors and states of parts',
  addresses: 'addresses',
  neighbourAddresses: 'address table',
  bridge: 'forwarding table and VLANs',
  lldp: 'neighbours',
  host: 'memory and storage',
  power: 'power over Ethernet',
  services: 'listeners and connections',
  software: 'installed software',
  routing: 'routes and routing peers',
  machines: 'virtual machines',
  standby: 'routers that stand in for each other',
  portAccess: 'who is let in at ports',
  alarms: 'active alarms',
  ups: 'uninterruptible power',
  printer: 'printing',
  wireless: 'wireless networks',
  told: 'devices it looks after',
  security: 'default communities',
  contexts: 'other contexts (VRF, VLAN)',
  private: 'extra facts of its signature',
};

/** `whole`: asked, and the end was seen (also when the agent has none of it). `failed`: broken off; the rows so far are not to be trusted as complete. */
export type PartState =
  | { state: 'whole'; seconds: number }
  | {
      state: 'failed';
      reason: string;
      seconds: number;
      /** what was read of it is right as far as it goes: a page of it is missing, and the others count */
      addsUp?: true;
    };

/** Extra facts that a signature names: raw numbers or text by the fact's name. */
export type PrivateFacts = Partial<Record<ExtraFact, number | string>>;

/** What a device told in another SNMP context than its own: a virtual router's addresses, a VLAN's forwarding table. */
export interface ContextHarvest {
  context: string;
  addresses: InterfaceAddress[];
  neighbourAddresses: NeighbourAddress[];
  routes: RouteRow[];
  /** with the VLAN already told by the context */
  forwarding: Bridge['forwarding'];
  ifIndexByBridgePort: Bridge['ifIndexByBridgePort'];
}

/** All that one device answered in one survey, typed, before anything is concluded from it. */
export interface Harvest {
  /** the address as the scope names it, before translation */
  address: string;
  credential: string;
  system: SystemGroup;
  interfaces: InterfaceRow[];
  modules: PhysicalRow[];
  /** entPhysicalIndex → ifIndex */
  moduleInterfaces: Map<number, number>;
  addresses: InterfaceAddress[];
  neighbourAddresses: NeighbourAddress[];
  bridge: Bridge | null;
  lldp: Lldp | null;
  host: HostResources | null;
  /** how far its clock is ahead of ours; null where it does not tell, or nobody compared */
  clockAheadSeconds: number | null;
  poweringPorts: PoweringPort[];
  powerGroups: PowerGroup[];
  sensors: SensorRow[];
  moduleStates: EntityStateRow[];
  running: RunningProcess[];
  listeners: Listener[];
  connections: Connection[];
  installed: InstalledSoftware[];
  routes: RouteRow[];
  /** how many routes the device has where they were too many to be read */
  routesLeft?: number;
  bgpPeers: BgpPeer[];
  ospfNeighbours: OspfNeighbour[];
  isisNeighbours?: IsisNeighbour[];
  hypervisor: Hypervisor | null;
  virtualRouters?: VirtualRouter[];
  /** ifIndex → whether it lets in what is plugged into it */
  portAccess?: Map<number, PortAccess>;
  /** ifIndex → the virtual routing table it is in */
  interfaceVrfs?: Map<number, string>;
  activeAlarms?: ActiveAlarm[];
  /** groups of powering ports whose supply is broken */
  faultyPowerGroups?: number[];
  ups?: Ups;
  printer?: Printer;
  contexts: ContextHarvest[];
  private: PrivateFacts;
  readings: ReadingValue[];
  /** entPhysicalIndex → bytes, where the signature says that the memory of modules counts */
  moduleMemory: Map<number, number>;
  /** ifIndex → why the device switched the port off itself, as its signature reads it */
  portsDisabled?: Map<number, string>;
  /** ifIndex → watts that are drawn there, as its signature reads them */
  portWatts?: Map<number, number>;
  signature: string;
  parts: Partial<Record<HarvestPart, PartState>>;
}

/** The parts that may close rows of the store: asked and whole. */
export function coveredParts(harvest: Pick<Harvest, 'parts'>): Set<HarvestPart> {
  return new Set(harvestParts.filter((part) => harvest.parts[part]?.state === 'whole'));
}

/** Parts of which pages are missing: what was read of them is written, and what was not is neither there nor gone. */
export function addingParts(harvest: Pick<Harvest, 'parts'>): Set<HarvestPart> {
  return new Set(
    harvestParts.filter((part) => {
      const state = harvest.parts[part];
      return state?.state === 'failed' && state.addsUp === true;
    }),
  );
}

/** The parts that broke off, in words. */
export function missingParts(harvest: Pick<Harvest, 'parts'>): { part: HarvestPart; reason: string }[] {
  return harvestParts.flatMap((part) => {
    const state = harvest.parts[part];
    return state?.state === 'failed' ? [{ part, reason: state.reason }] : [];
  });
}
