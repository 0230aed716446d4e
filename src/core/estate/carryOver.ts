import type { DeviceFacts } from './facts';
import type { HarvestPart } from './harvest';

/** Which part of a harvest each field of a device comes from. Fields not listed come from the system group, which always answered. */
const origin: Partial<Record<keyof DeviceFacts, HarvestPart[]>> = {
  serial: ['modules', 'private'],
  model: ['modules'],
  release: ['modules', 'private'],
  bootRelease: ['private'],
  units: ['modules'],
  addresses: ['addresses'],
  memoryBytes: ['host', 'private'],
  flashBytes: ['host', 'private'],
  processors: ['host'],
  bridgeAddress: ['bridge'],
  role: ['bridge', 'host', 'interfaces'],
};

/**
 * A part that broke off must not blank what was known: fields that come from a part that was not covered keep their
 * former value when this harvest has none for them.
 */
export function carryOver(previous: DeviceFacts | undefined, found: DeviceFacts, covered: Set<HarvestPart>, asked: Set<HarvestPart>): DeviceFacts {
  if (!previous) return found;
  const kept = Object.entries(origin).flatMap(([field, parts]) => {
    const broken = parts.some((part) => asked.has(part) && !covered.has(part));
    return broken ? [[field, previous[field as keyof DeviceFacts]]] : [];
  });
  return { ...found, ...(Object.fromEntries(kept) as Partial<DeviceFacts>) };
}
