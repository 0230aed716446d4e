import type { DeviceFacts, DeviceReport, PortFacts } from './facts';
import { toldKinds, type ToldList } from './factKinds';
import type { HarvestPart } from './harvest';

/** Which part of a harvest each field of a device comes from. Fields not listed come from the system group, which always answered. */
const origin: Partial<Record<keyof DeviceFacts, HarvestPart[]>> = {
  serial: ['modules', 'private'],
  model: ['modules'],
  release: ['modules', 'private'],
  bootRelease: ['private'],
  bootImage: ['private'],
  redundancyRole: ['private'],
  unsavedConfiguration: ['private'],
  units: ['modules'],
  addresses: ['addresses'],
  memoryBytes: ['host', 'private'],
  flashBytes: ['host', 'private'],
  processors: ['host'],
  bridgeAddress: ['bridge'],
  chassisId: ['lldp'],
  role: ['bridge', 'host', 'interfaces'],
};

/**
 * A part that broke off must not blank what was known: fields that come from a part that was not covered keep their
 * former value when this harvest has none for them.
 */
export function carryOver(
  previous: DeviceFacts | undefined,
  found: DeviceFacts,
  covered: Set<HarvestPart>,
  asked: Set<HarvestPart>,
): DeviceFacts {
  const kept = keepBroken(previous, found, origin, covered, asked);
  // a survey that did not look for it says nothing of it
  return !asked.has('security') && previous?.defaultCommunities
    ? { ...kept, defaultCommunities: previous.defaultCommunities }
    : kept;
}

/** Fields of a port that other tables tell than those of the interfaces. */
const portOrigin: Partial<Record<keyof PortFacts, HarvestPart[]>> = {
  vlan: ['bridge'],
  taggedVlans: ['bridge'],
  untaggedVlans: ['bridge'],
  stp: ['bridge'],
  addresses: ['addresses'],
  poe: ['power'],
  transceiver: ['modules'],
  voiceVlan: ['lldp'],
  lldpId: ['lldp'],
  disabledBy: ['private'],
};

/** The same for a device's ports, each beside the one that was known under its name. */
export function carryOverPorts(
  previous: Map<string, PortFacts>,
  found: PortFacts[],
  covered: Set<HarvestPart>,
  asked: Set<HarvestPart>,
): PortFacts[] {
  return found.map((port) => keepBroken(previous.get(port.name), port, portOrigin, covered, asked));
}

function keepBroken<Facts extends object>(
  previous: Facts | undefined,
  found: Facts,
  from: Partial<Record<keyof Facts, HarvestPart[]>>,
  covered: Set<HarvestPart>,
  asked: Set<HarvestPart>,
): Facts {
  if (!previous) return found;
  const kept = (Object.entries(from) as [keyof Facts, HarvestPart[]][]).flatMap(([field, parts]) => {
    const broken = parts.some((part) => asked.has(part) && !covered.has(part));
    return broken && field in previous ? [[field, previous[field]]] : [];
  });
  return { ...found, ...(Object.fromEntries(kept) as Partial<Facts>) };
}

/** Which part of an answer each list of a report comes from. */
const listOrigin = Object.fromEntries(toldKinds.map(({ list, part }) => [list, [part]])) as Record<
  ToldList,
  HarvestPart[]
>;

/** The same for a whole report of one way in: a list whose part broke off is the one of its last good answer. */
export function carryOverReport(
  previous: DeviceReport | undefined,
  found: DeviceReport,
  covered: Set<HarvestPart>,
  asked: Set<HarvestPart>,
): DeviceReport {
  const device = carryOver(previous?.device, found.device, covered, asked);
  return {
    ...keepBroken<DeviceReport>(previous, found, listOrigin, covered, asked),
    device,
  };
}
