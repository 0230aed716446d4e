import type { DeviceFacts, DeviceReport, PortFacts } from './facts';
import { toldKinds, type ToldList, type ToldRow } from './factKinds';
import type { HarvestPart } from './harvest';

/** Which part of a harvest each field of a device comes from. Fields not listed follow from what always answered. */
const origin: Partial<Record<keyof DeviceFacts, HarvestPart[]>> = {
  name: ['system'],
  description: ['system'],
  contact: ['system'],
  location: ['system'],
  engineId: ['system'],
  vendor: ['system'],
  family: ['system'],
  signature: ['system'],
  serial: ['modules', 'private'],
  model: ['modules', 'system'],
  release: ['modules', 'private', 'system'],
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
  covered: ReadonlySet<HarvestPart>,
  asked: ReadonlySet<HarvestPart>,
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
  access: ['portAccess'],
};

/** Parts beside that of the interfaces from which something of a port comes. */
export const portParts: readonly HarvestPart[] = [...new Set(Object.values(portOrigin).flat())];

/** The same for a device's ports, each beside the one that was known under its name. */
export function carryOverPorts(
  previous: Map<string, PortFacts>,
  found: PortFacts[],
  covered: ReadonlySet<HarvestPart>,
  asked: ReadonlySet<HarvestPart>,
): PortFacts[] {
  return found.map((port) => keepBroken(previous.get(port.name), port, portOrigin, covered, asked));
}

function keepBroken<Facts extends object>(
  previous: Facts | undefined,
  found: Facts,
  from: Partial<Record<keyof Facts, HarvestPart[]>>,
  covered: ReadonlySet<HarvestPart>,
  asked: ReadonlySet<HarvestPart>,
): Facts {
  if (!previous) return found;
  const kept = (Object.entries(from) as [keyof Facts, HarvestPart[]][]).flatMap(([field, parts]) => {
    const broken = parts.some((part) => asked.has(part) && !covered.has(part));
    return broken && field in previous ? [[field, previous[field]]] : [];
  });
  return { ...found, ...(Object.fromEntries(kept) as Partial<Facts>) };
}

/** Which part of an answer each list of a report comes from. */
const listOrigin = Object.fromEntries(toldKinds.map(({ list, part, also = [] }) => [list, [part, ...also]])) as Record<
  ToldList,
  HarvestPart[]
>;

/** How much of an answer is there, part by part. */
export interface Covering {
  covered: ReadonlySet<HarvestPart>;
  /** of which pages are missing, and the rest is right */
  adding: ReadonlySet<HarvestPart>;
  asked: ReadonlySet<HarvestPart>;
}

/**
 * The same for a whole report of one way in: a list whose part broke off is the one of its last good answer; one of which pages are missing has beside what was read whatever the last one
 * had and this one does not name.
 */
export function carryOverReport(
  previous: DeviceReport | undefined,
  found: DeviceReport,
  { covered, adding, asked }: Covering,
): DeviceReport {
  const device = carryOver(previous?.device, found.device, covered, asked);
  const lists = previous ? besideMissing(previous, found, { covered, adding, asked }) : {};
  const rest = new Set([...covered, ...adding]);
  return { ...keepBroken<DeviceReport>(previous, found, listOrigin, rest, asked), ...lists, device };
}

function besideMissing(
  previous: DeviceReport,
  found: DeviceReport,
  { covered, adding, asked }: Covering,
): Partial<DeviceReport> {
  const lists = toldKinds.flatMap(({ list, part, also = [], key }) => {
    const parts = [part, ...also].filter((one) => asked.has(one) && !covered.has(one));
    const [before, now] = [previous[list], found[list]] as (readonly ToldRow<ToldList>[] | undefined)[];
    if (parts.length === 0 || !parts.every((one) => adding.has(one)) || !before || !now) return [];
    const known = new Map(before.map((row) => [key(row, before), row]));
    const named = new Set(now.map((row) => key(row, now)));
    const placed = now.map((row) => withPlaceOf(known.get(key(row, now)), row));
    return [[list, [...placed, ...before.filter((row) => !named.has(key(row, before)))]]];
  });
  return Object.fromEntries(lists) as Partial<DeviceReport>;
}

/** Which place a part has among the others is told by the whole list alone. */
function withPlaceOf(before: ToldRow<ToldList> | undefined, row: ToldRow<ToldList>): ToldRow<ToldList> {
  return before && 'order' in before && 'order' in row
    ? { ...row, order: before.order, position: before.position }
    : row;
}
