import type { Role } from '../estate/facts';
import { compareNaturally } from '../values/naturalOrder';

/**
 * Positions for the map: devices stand on terraces (edge of the estate at the top, endpoints at the bottom), sites are bays
 * beside each other. Within a bay and terrace devices are ordered by the mean place of their neighbours above
 * (barycentre method: Sugiyama, Tagawa and Toda, 1981), ties by name. A bay's width depends on its own devices only,
 * and bays stand in order of their codes, so that one more site moves nothing inside the others.
 */
export interface LayoutDevice {
  id: number;
  name: string;
  role: Role;
  site: string;
}

export interface LayoutLink {
  a: number;
  b: number;
}

export interface Plate {
  id: number;
  x: number;
  y: number;
}

export interface Bay {
  site: string;
  x: number;
  y: number;
  width: number;
  height: number;
  terraces: { label: string; y: number; height: number }[];
}

export interface MapLayout {
  plates: Plate[];
  bays: Bay[];
  width: number;
  height: number;
}

export const plateWidth = 132;
export const plateHeight = 26;
const gapX = 22;
const gapY = 18;
const terracePadding = 22;
const terraceGap = 44;
const bayGap = 36;
const maximumColumns = 6;

const terraceLabels = ['edge', 'core', 'distribution and access', 'servers and endpoints'] as const;

function terraceOf(device: LayoutDevice, degree: number): number {
  switch (device.role) {
    case 'router':
    case 'firewall':
      return 0;
    case 'switch':
      return degree >= 4 && /core|dist|spine/i.test(device.name) ? 1 : 2;
    case 'fabric-controller':
      return 1;
    default:
      return 3;
  }
}

/** Places every device. Pure and independent of the order of its input. */
export function layoutTerraces(devices: LayoutDevice[], links: LayoutLink[]): MapLayout {
  const neighbours = new Map<number, number[]>();
  for (const { a, b } of links) {
    neighbours.set(a, [...(neighbours.get(a) ?? []), b]);
    neighbours.set(b, [...(neighbours.get(b) ?? []), a]);
  }
  const sites = [...new Set(devices.map(({ site }) => site))].sort((x, y) => sizeOf(devices, y) - sizeOf(devices, x) || compareNaturally(x, y));
  const bySite = new Map(sites.map((site) => [site, devices.filter((device) => device.site === site).sort((x, y) => compareNaturally(x.name, y.name) || x.id - y.id)]));
  const rowsNeeded = terraceLabels.map((_, terrace) =>
    Math.max(0, ...[...bySite.values()].map((list) => Math.ceil(list.filter((device) => terraceOf(device, neighbours.get(device.id)?.length ?? 0) === terrace).length / maximumColumns))),
  );
  const terraceTops: number[] = [];
  let y = 28;
  for (const rows of rowsNeeded) {
    terraceTops.push(y);
    if (rows > 0) y += terraceHeight(rows) + terraceGap;
  }
  const height = y;
  const plates: Plate[] = [];
  const bays: Bay[] = [];
  const placedX = new Map<number, number>();
  let x = 16;
  for (const [site, members] of bySite) {
    const terraces = terraceLabels.map((_, terrace) => members.filter((device) => terraceOf(device, neighbours.get(device.id)?.length ?? 0) === terrace));
    const columns = Math.min(maximumColumns, Math.max(1, ...terraces.map((list) => list.length)));
    const width = columns * (plateWidth + gapX) - gapX + 2 * gapX;
    terraces.forEach((list, terrace) => {
      const ordered = [...list].sort((left, right) => barycentre(left, neighbours, placedX) - barycentre(right, neighbours, placedX) || compareNaturally(left.name, right.name));
      ordered.forEach((device, at) => {
        const row = Math.floor(at / maximumColumns);
        const inRow = Math.min(maximumColumns, ordered.length - row * maximumColumns);
        const used = inRow * (plateWidth + gapX) - gapX;
        const plate = {
          id: device.id,
          x: x + (width - used) / 2 + (at % maximumColumns) * (plateWidth + gapX),
          y: (terraceTops[terrace] ?? 0) + terracePadding + row * (plateHeight + gapY),
        };
        placedX.set(device.id, plate.x);
        plates.push(plate);
      });
    });
    bays.push({
      site, x, y: 8, width, height: height - 8 - terraceGap + 12,
      terraces: terraceLabels.flatMap((label, terrace) =>
        (terraces[terrace]?.length ?? 0) > 0 ? [{ label, y: terraceTops[terrace] ?? 0, height: terraceHeight(rowsNeeded[terrace] ?? 1) }] : [],
      ),
    });
    x += width + bayGap;
  }
  return { plates: plates.sort((a, b) => a.id - b.id), bays, width: x, height };
}

const sizeOf = (devices: LayoutDevice[], site: string) => (devices.filter((device) => device.site === site).length >= 8 ? 1 : 0);
const terraceHeight = (rows: number) => rows * (plateHeight + gapY) - gapY + 2 * terracePadding - 8;

/** Mean place of the neighbours already placed; far right when there is none, so that names decide. */
function barycentre(device: LayoutDevice, neighbours: Map<number, number[]>, placedX: Map<number, number>): number {
  const places = (neighbours.get(device.id) ?? []).flatMap((id) => placedX.get(id) ?? []);
  return places.length === 0 ? Number.MAX_SAFE_INTEGER : Math.round(places.reduce((sum, place) => sum + place, 0) / places.length);
}
