import type { Role } from '../estate/facts';
import { compareNaturally } from '../values/naturalOrder';

/** A device as the map places it. `since`: the survey that found it; what came later never moves what was there. */
export interface LayoutDevice {
  id: number;
  name: string;
  role: Role;
  site: string;
  since: number;
}

/** Two devices that are joined, or were once. `since`: the first survey that knew it. */
export interface LayoutJoint {
  a: number;
  b: number;
  since: number;
}

export const plateWidth = 132;
export const plateHeight = 26;
const gapX = 16;
const gapY = 18;
const terracePadding = 20;
const terraceGap = 16;
const titleHeight = 22;
/** room at the sides of a bay */
const padding = 12;

export const terraceLabels = ['edge', 'core', 'distribution and access', 'servers and endpoints'] as const;

/** On which terrace a device stands: the edge of the estate at the top, endpoints at the bottom. */
export function terraceOf({ role, name }: Pick<LayoutDevice, 'role' | 'name'>): number {
  switch (role) {
    case 'router':
    case 'firewall':
      return /core|spine/i.test(name) ? 1 : 0;
    case 'switch':
      return /core|spine/i.test(name) ? 1 : 2;
    case 'fabric-controller':
      return 1;
    default:
      return 3;
  }
}

/** Devices of one site, each in its column and row of its terrace; measures are relative to the corner of the bay. */
export interface BayPlan {
  site: string;
  width: number;
  height: number;
  plates: { id: number; x: number; y: number }[];
  terraces: { label: string; y: number; height: number }[];
}

/** Of so many devices a bay is about as wide as a screen for its height. */
const columnsFor = (devices: number): number => Math.max(3, Math.ceil(Math.sqrt(devices * 0.35)));

/**
 * The inside of a bay. On each terrace those that were found first stand in the order of the mean place of their neighbours above (barycentre method: Sugiyama, Tagawa and Toda, 1981),
 * ties by name; whoever came later stands behind them. So a device keeps its place as long as its bay keeps its width, and that is made anew only when the bay has more than twice the
 * devices it was made for.
 */
export function planBay(site: string, members: readonly LayoutDevice[], joints: readonly LayoutJoint[]): BayPlan {
  const born = Math.min(...members.map(({ since }) => since));
  const columns = columnsOf(members);
  const neighbours = new Map<number, number[]>();
  for (const { a, b, since } of joints) {
    if (since > born) continue;
    neighbours.set(a, [...(neighbours.get(a) ?? []), b]);
    neighbours.set(b, [...(neighbours.get(b) ?? []), a]);
  }
  const placed = new Map<number, number>();
  const mean = ({ id }: LayoutDevice) => {
    const above = (neighbours.get(id) ?? []).flatMap((other) => placed.get(other) ?? []);
    return above.length === 0 ? Infinity : above.reduce((sum, x) => sum + x, 0) / above.length;
  };
  const byName = (x: LayoutDevice, y: LayoutDevice) => compareNaturally(x.name, y.name) || x.id - y.id;
  const plan: BayPlan = { site, width: 0, height: titleHeight, plates: [], terraces: [] };
  let widest = 1;
  const rows: { terrace: number; ordered: LayoutDevice[] }[] = [];
  for (let terrace = 0; terrace < terraceLabels.length; terrace++) {
    const own = members.filter((device) => terraceOf(device) === terrace);
    if (own.length === 0) continue;
    const first = own
      .filter(({ since }) => since === born)
      .map((device) => ({ device, at: mean(device) }))
      .sort((x, y) => (x.at === y.at ? byName(x.device, y.device) : x.at - y.at))
      .map(({ device }) => device);
    const later = own.filter(({ since }) => since > born).sort((x, y) => x.since - y.since || byName(x, y));
    const ordered = [...first, ...later];
    ordered.forEach(({ id }, at) => placed.set(id, at % columns));
    widest = Math.max(widest, Math.min(columns, ordered.length));
    rows.push({ terrace, ordered });
  }
  plan.width = Math.max(2, widest) * (plateWidth + gapX) - gapX + 2 * padding;
  for (const { terrace, ordered } of rows) {
    const height = terraceHeight(Math.ceil(ordered.length / columns));
    plan.terraces.push({ label: terraceLabels[terrace] ?? '', y: plan.height, height });
    ordered.forEach(({ id }, at) => {
      plan.plates.push({
        id,
        x: padding + (at % columns) * (plateWidth + gapX),
        y: plan.height + terracePadding + Math.floor(at / columns) * (plateHeight + gapY),
      });
    });
    plan.height += height + terraceGap;
  }
  plan.height += padding - terraceGap;
  return plan;
}

/** As wide as it was made; made anew when it holds more than twice as many. */
function columnsOf(members: readonly LayoutDevice[]): number {
  const counts = new Map<number, number>();
  for (const { since } of members) counts.set(since, (counts.get(since) ?? 0) + 1);
  let [made, count] = [0, 0];
  for (const since of [...counts.keys()].sort((x, y) => x - y)) {
    count += counts.get(since) ?? 0;
    if (made === 0 || count > 2 * made + 4) made = count;
  }
  return columnsFor(made);
}

const terraceHeight = (rows: number) => rows * (plateHeight + gapY) - gapY + 2 * terracePadding - 8;
