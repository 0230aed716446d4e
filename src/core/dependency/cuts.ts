import { firstsOf, mainPieces, nothingAway, partsOf, type Cabling } from './cabling';
import { heartsOf, onlyWays } from './onlyWays';

/** How much reaches the largest piece of its network no longer. */
export interface CutOff {
  devices: number;
  /** the sum of what hangs on those devices */
  hanging: number;
}

/**
 * What each single device and cable would cut off, where it would; what a device is itself does not count. All at once: what stands behind a device or cable is what has it on its way to the heart of the network, and each heart is
 * taken away by itself. Linear in cables.
 * @param hangingOn how much hangs on a device, as its endpoints
 */
export function cutsOf(
  cabling: Cabling,
  standing: Uint8Array,
  hangingOn: (device: number) => number = () => 0,
): { devices: Map<number, CutOff>; cables: Map<number, CutOff> } {
  const away = nothingAway(cabling);
  const before = partsOf(cabling, away);
  const starts = [...firstsOf(cabling, before.partOf, before.sizes.length)].filter(
    (_, part) => (before.sizes[part] ?? 0) > 1,
  );
  const hearts = heartsOf(cabling, away, starts, standing);
  const { depth, nearest, nearestCable, cableAbove } = onlyWays(cabling, away, hearts);
  const devices = new Map<number, CutOff>();
  const cables = new Map<number, CutOff>();
  const inwards = Array.from({ length: cabling.size }, (_, at) => at)
    .filter((device) => (depth[device] ?? -1) > 0)
    .sort((x, y) => (depth[y] ?? 0) - (depth[x] ?? 0));
  // what is behind a device is behind all that it is behind itself
  for (const device of inwards) {
    const own = devices.get(device);
    const on = nearest[device] ?? -1;
    if (on >= 0) count(devices, on, 1 + (own?.devices ?? 0), hangingOn(device) + (own?.hanging ?? 0));
    const over = nearestCable[device] ?? -1;
    if (over >= 0) count(cables, over, 1, hangingOn(device));
  }
  const steps = new Map<number, number>();
  const stepsTo = (cable: number): number => {
    const way: number[] = [];
    for (let at = cable; at !== -1 && !steps.has(at); at = cableAbove[at] ?? -1) way.push(at);
    for (const at of way.reverse()) steps.set(at, 1 + (steps.get(cableAbove[at] ?? -1) ?? 0));
    return steps.get(cable) ?? 0;
  };
  for (const cable of [...cables.keys()].sort((x, y) => stepsTo(y) - stepsTo(x))) {
    const above = cableAbove[cable] ?? -1;
    const own = cables.get(cable);
    if (above >= 0 && own) count(cables, above, own.devices, own.hanging);
  }
  for (const heart of hearts) away.devices[heart] = 1;
  const left = partsOf(cabling, away);
  const main = mainPieces(cabling, before, left);
  const heartOfPart = new Map(hearts.map((heart) => [before.partOf[heart] ?? 0, heart]));
  for (let device = 0; device < cabling.size; device++) {
    const part = before.partOf[device] ?? 0;
    const heart = heartOfPart.get(part);
    if (heart !== undefined && !away.devices[device] && left.partOf[device] !== main[part])
      count(devices, heart, 1, hangingOn(device));
  }
  return { devices, cables };
}

function count(of: Map<number, CutOff>, key: number, devices: number, hanging: number): void {
  const known = of.get(key);
  if (!known) of.set(key, { devices, hanging });
  else {
    known.devices += devices;
    known.hanging += hanging;
  }
}
