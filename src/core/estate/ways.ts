import type { WayIn, WayKind } from './facts';

/** How each way in to a device is called where it is spoken of. */
export const wayNames: Record<WayKind, string> = {
  snmp: 'SNMP',
  redfish: 'Redfish',
  restconf: 'RESTCONF',
  wireless: 'Wireless controller',
  fabric: 'Fabric controller',
  hypervisors: 'Hypervisor manager',
};

/** Ways in that tell of other devices too. */
export const tellingKinds: ReadonlySet<WayKind> = new Set(['wireless', 'fabric', 'hypervisors']);

/** The ways in which a device answers itself: one that a controller tells of has the controller as a way in, but is not asked for it. */
export const ownWays = (ways: WayIn[], isTold: boolean): WayIn[] =>
  isTold ? ways.filter(({ kind }) => !tellingKinds.has(kind)) : ways;
