import type { Role } from '../estate/facts';
import { compareNaturally } from '../values/naturalOrder';

/**
 * Positions for the map: devices stand on terraces (edge of the estate at the top, endpoints at the bottom), sites are bays
 * beside each other. Within a bay and terrace devices are ordered by the mean place of their neighbours above
 * (barycentre method: Sugiyama, Tagawa and Toda, 1981), ties by name. A bay's size depends on its own devices only,
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
const gapX = 16;
const gapY = 18;
const terracePadding = 20;
const terraceGap = 22;
const bayGap = 30;
const margin = 14;
const titleHeight = 20;
const maximumColumns = 4;

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

/** A bay before it has a place: its own terraces, its own size. */
interface Plan {
  site: string;
  terraces: LayoutDevice[][];
  columns: number;
  width: number;
  height: number;
  large: boolean;
}

/**
 * Places every device. Pure and independent of the order of its input. Large bays (eight devices and more) stand side by side
 * at the left, small ones in a grid at their right, filled column by column, so that a site that sorts last moves nothing.
 */
export function layoutTerraces(devices: LayoutDevice[], links: LayoutLink[]): MapLayout {
  const neighbours = new Map<number, number[]>();
  for (const { a, b } of links) {
    neighbours.set(a, [...(neighbours.get(a) ?? []), b]);
    neighbours.set(b, [...(neighbours.get(b) ?? []), a]);
  }
  const sites = [...new Set(devices.map(({ site }) => site))].sort(compareNaturally);
  const plans = sites.map((site) => planOf(site, devices.filter((device) => device.site === site), neighbours));
  const large = plans.filter((plan) => plan.large);
  const small = plans.filter((plan) => !plan.large);
  const cellWidth = Math.max(0, ...small.map(({ width }) => width));
  const cellHeight = Math.max(0, ...small.map(({ height }) => height));
  const tallest = Math.max(0, ...large.map(({ height }) => height));
  // as many rows as the large bays allow, more when that would make the map far wider than a screen
  const rows = Math.max(1, Math.floor((tallest + bayGap) / (cellHeight + bayGap)), Math.ceil(Math.sqrt((small.length * (cellWidth + bayGap)) / (2.6 * (cellHeight + bayGap)))) || 1);
  const layout: MapLayout = { plates: [], bays: [], width: 0, height: 0 };
  const placedX = new Map<number, number>();
  let x = margin;
  for (const plan of large) {
    settle(plan, x, margin, neighbours, placedX, layout);
    x += plan.width + bayGap;
  }
  small.forEach((plan, at) => settle(plan, x + Math.floor(at / rows) * (cellWidth + bayGap), margin + (at % rows) * (cellHeight + bayGap), neighbours, placedX, layout));
  layout.width = Math.max(0, ...layout.bays.map((bay) => bay.x + bay.width)) + margin;
  layout.height = Math.max(0, ...layout.bays.map((bay) => bay.y + bay.height)) + margin;
  layout.plates.sort((a, b) => a.id - b.id);
  return layout;
}

function planOf(site: string, members: LayoutDevice[], neighbours: Map<number, number[]>): Plan {
  const terraces = terraceLabels.map((_, terrace) =>
    members.filter((device) => terraceOf(device, neighbours.get(device.id)?.length ?? 0) === terrace).sort((x, y) => compareNaturally(x.name, y.name) || x.id - y.id),
  );
  const columns = Math.min(maximumColumns, Math.max(1, ...terraces.map((list) => list.length)));
  const used = terraces.filter((list) => list.length > 0);
  const height = titleHeight + used.reduce((sum, list) => sum + terraceHeight(Math.ceil(list.length / maximumColumns)) + terraceGap, 0) - terraceGap;
  return { site, terraces, columns, width: columns * (plateWidth + gapX) + gapX, height, large: members.length >= 8 };
}

/** Writes a bay and its plates into the layout at a place. */
function settle(plan: Plan, x: number, y: number, neighbours: Map<number, number[]>, placedX: Map<number, number>, layout: MapLayout): void {
  const bay: Bay = { site: plan.site, x, y, width: plan.width, height: plan.height, terraces: [] };
  let top = y + titleHeight;
  plan.terraces.forEach((list, terrace) => {
    if (list.length === 0) return;
    const ordered = [...list].sort((left, right) => barycentre(left, neighbours, placedX) - barycentre(right, neighbours, placedX) || compareNaturally(left.name, right.name));
    ordered.forEach((device, at) => {
      const row = Math.floor(at / maximumColumns);
      const inRow = Math.min(maximumColumns, ordered.length - row * maximumColumns);
      const plate = {
        id: device.id,
        x: x + (plan.width - (inRow * (plateWidth + gapX) - gapX)) / 2 + (at % maximumColumns) * (plateWidth + gapX),
        y: top + terracePadding + row * (plateHeight + gapY),
      };
      placedX.set(device.id, plate.x);
      layout.plates.push(plate);
    });
    const height = terraceHeight(Math.ceil(list.length / maximumColumns));
    bay.terraces.push({ label: terraceLabels[terrace] ?? '', y: top, height });
    top += height + terraceGap;
  });
  layout.bays.push(bay);
}

const terraceHeight = (rows: number) => rows * (plateHeight + gapY) - gapY + 2 * terracePadding - 8;

/** Mean place of the neighbours already placed; far right when there is none, so that names decide. */
function barycentre(device: LayoutDevice, neighbours: Map<number, number[]>, placedX: Map<number, number>): number {
  const places = (neighbours.get(device.id) ?? []).flatMap((id) => placedX.get(id) ?? []);
  return places.length === 0 ? Number.MAX_SAFE_INTEGER : Math.round(places.reduce((sum, place) => sum + place, 0) / places.length);
}
