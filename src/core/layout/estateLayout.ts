import { compareNaturally } from '../values/naturalOrder';
import { planBay, type BayPlan, type LayoutDevice, type LayoutJoint } from './bay';

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
  /** the box around all bays; its corner may be anywhere, since what comes later may come before what was there */
  box: { x: number; y: number; width: number; height: number };
}

/** The plane is cut into cells, of which a bay takes as many as it needs. */
const cellWidth = 158;
const cellHeight = 88;
const bayGap = 44;

interface Place {
  plan: BayPlan;
  column: number;
  row: number;
  columns: number;
  rows: number;
}

/**
 * Where sites lie, and devices in them. Sites that are joined lie near each other: the largest in the middle, then whoever has most links to those that are there, each on the free cells
 * where its links are shortest; then pairs that had better change places do. That is done once, for what the first survey found. What later surveys find is placed on what is
 * free, survey by survey, by the links of that time, and moves nothing; only a bay that outgrows its cells looks for another place. So the same estate gives the same picture, in any order of
 * its input, whatever came and went since.
 */
export function layoutEstate(devices: readonly LayoutDevice[], joints: readonly LayoutJoint[]): MapLayout {
  const siteOf = new Map(devices.map(({ id, site }) => [id, site]));
  const moments = [...new Set(devices.map(({ since }) => since))].sort((x, y) => x - y);
  const places = new Map<string, Place>();
  for (const [nth, moment] of moments.entries()) {
    const present = new Map<string, LayoutDevice[]>();
    const grown = new Set<string>();
    for (const device of devices) {
      if (device.since > moment) continue;
      const members = present.get(device.site);
      if (members) members.push(device);
      else present.set(device.site, [device]);
      if (device.since === moment) grown.add(device.site);
    }
    const known = joints.filter(({ since }) => since <= moment);
    const weights = weightsOf(known, siteOf);
    const waiting: BayPlan[] = [];
    for (const site of grown) {
      const plan = planBay(
        site,
        present.get(site) ?? [],
        known.filter(({ a, b }) => siteOf.get(a) === site && siteOf.get(b) === site),
      );
      const place = places.get(site);
      if (place && plan.width + bayGap <= place.columns * cellWidth && plan.height + bayGap <= place.rows * cellHeight)
        place.plan = plan;
      else {
        places.delete(site);
        waiting.push(plan);
      }
    }
    settle(waiting, places, weights);
    if (nth === 0) exchange(places, weights);
  }
  return drawn(places);
}

type Weights = Map<string, Map<string, number>>;

/** How strongly sites are joined: many links count for more than one, but not as many times. */
function weightsOf(joints: readonly LayoutJoint[], siteOf: ReadonlyMap<number, string>): Weights {
  const counts: Weights = new Map();
  const add = (from: string, to: string) => {
    const own = counts.get(from) ?? new Map<string, number>();
    counts.set(from, own.set(to, (own.get(to) ?? 0) + 1));
  };
  for (const { a, b } of joints) {
    const [from, to] = [siteOf.get(a), siteOf.get(b)];
    if (from === undefined || to === undefined || from === to) continue;
    add(from, to);
    add(to, from);
  }
  // in the order of their names: sums of the same numbers in another order are not quite the same
  return new Map(
    [...counts].map(([site, own]) => [
      site,
      new Map([...own].sort(([x], [y]) => (x < y ? -1 : 1)).map(([other, count]) => [other, Math.sqrt(count)])),
    ]),
  );
}

/** Places bays one after the other, each where its links to those that are there are shortest. */
function settle(waiting: BayPlan[], places: Map<string, Place>, weights: Weights): void {
  const rest = new Map(waiting.map((plan) => [plan.site, plan]));
  const area = ({ width, height }: BayPlan) => width * height;
  const pull = (site: string) =>
    [...(weights.get(site) ?? [])].reduce((sum, [other, weight]) => sum + (places.has(other) ? weight : 0), 0);
  while (rest.size > 0) {
    const [plan] = [...rest.values()]
      .map((own) => ({ own, pull: pull(own.site) }))
      .sort((x, y) => y.pull - x.pull || area(y.own) - area(x.own) || compareNaturally(x.own.site, y.own.site))
      .map(({ own }) => own);
    if (!plan) return;
    rest.delete(plan.site);
    const [columns, rows] = [
      Math.ceil((plan.width + bayGap) / cellWidth),
      Math.ceil((plan.height + bayGap) / cellHeight),
    ];
    places.set(plan.site, { plan, columns, rows, ...bestCell(plan.site, columns, rows, places, weights) });
  }
}

/** Lengths are counted so that the picture becomes wider than high, as screens are. */
const across = 0.62;

function centre({ column, row, columns, rows }: Omit<Place, 'plan'>): { x: number; y: number } {
  return { x: (column + columns / 2) * cellWidth * across, y: (row + rows / 2) * cellHeight };
}

function bestCell(
  site: string,
  columns: number,
  rows: number,
  places: ReadonlyMap<string, Place>,
  weights: Weights,
): { column: number; row: number } {
  if (places.size === 0) return { column: 0, row: 0 };
  const taken = new Set<number>();
  const keyOf = (column: number, row: number) => (column + 5000) * 10_000 + row + 5000;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  let [sumX, sumY] = [0, 0];
  for (const place of places.values()) {
    for (let column = place.column; column < place.column + place.columns; column++)
      for (let row = place.row; row < place.row + place.rows; row++) taken.add(keyOf(column, row));
    [left, top, right, bottom] = [
      Math.min(left, place.column),
      Math.min(top, place.row),
      Math.max(right, place.column + place.columns),
      Math.max(bottom, place.row + place.rows),
    ];
    const { x, y } = centre(place);
    sumX += x;
    sumY += y;
  }
  const middle = { x: sumX / places.size, y: sumY / places.size };
  const pulls = [...(weights.get(site) ?? [])].flatMap(([other, weight]) => {
    const place = places.get(other);
    return place ? [{ ...centre(place), weight }] : [];
  });
  let best = { column: right, row: top, cost: Infinity };
  for (let row = top - rows; row <= bottom; row++) {
    for (let column = left - columns; column <= right; column++) {
      const { x, y } = centre({ column, row, columns, rows });
      let cost = Math.hypot(x - middle.x, y - middle.y) * 0.2;
      for (const pull of pulls) cost += pull.weight * Math.hypot(x - pull.x, y - pull.y);
      if (cost >= best.cost) continue;
      if (isFree(column, row, columns, rows, taken, keyOf)) best = { column, row, cost };
    }
  }
  return { column: best.column, row: best.row };
}

function isFree(
  column: number,
  row: number,
  columns: number,
  rows: number,
  taken: ReadonlySet<number>,
  keyOf: (column: number, row: number) => number,
): boolean {
  for (let at = column; at < column + columns; at++)
    for (let down = row; down < row + rows; down++) if (taken.has(keyOf(at, down))) return false;
  return true;
}

const mostPairs = 60_000;
const mostRounds = 8;

/** Bays of the same size change places where that makes links shorter, until none do. */
function exchange(places: Map<string, Place>, weights: Weights): void {
  const sites = [...places.keys()].sort(compareNaturally);
  if (sites.length ** 2 > mostPairs) return;
  const cost = (site: string) => {
    const own = places.get(site);
    if (!own) return 0;
    const { x, y } = centre(own);
    let sum = 0;
    for (const [other, weight] of weights.get(site) ?? []) {
      const place = places.get(other);
      if (!place) continue;
      const there = centre(place);
      sum += weight * Math.hypot(x - there.x, y - there.y);
    }
    return sum;
  };
  const swap = (one: Place, other: Place) => {
    [one.column, other.column] = [other.column, one.column];
    [one.row, other.row] = [other.row, one.row];
  };
  for (let round = 0; round < mostRounds; round++) {
    let changed = false;
    for (const [at, first] of sites.entries()) {
      for (const second of sites.slice(at + 1)) {
        const [one, other] = [places.get(first), places.get(second)];
        if (!one || !other || one.columns !== other.columns || one.rows !== other.rows) continue;
        const before = cost(first) + cost(second);
        swap(one, other);
        if (cost(first) + cost(second) < before - 1e-6) changed = true;
        else swap(one, other);
      }
    }
    if (!changed) return;
  }
}

function drawn(places: ReadonlyMap<string, Place>): MapLayout {
  const layout: MapLayout = { plates: [], bays: [], box: { x: 0, y: 0, width: 0, height: 0 } };
  for (const { plan, column, row } of places.values()) {
    const [x, y] = [column * cellWidth, row * cellHeight];
    layout.bays.push({
      site: plan.site,
      x,
      y,
      width: plan.width,
      height: plan.height,
      terraces: plan.terraces.map((terrace) => ({ ...terrace, y: terrace.y + y })),
    });
    for (const plate of plan.plates) layout.plates.push({ id: plate.id, x: plate.x + x, y: plate.y + y });
  }
  layout.bays.sort((one, other) => compareNaturally(one.site, other.site));
  layout.plates.sort((one, other) => one.id - other.id);
  if (layout.bays.length === 0) return layout;
  const [left, top] = [Math.min(...layout.bays.map(({ x }) => x)), Math.min(...layout.bays.map(({ y }) => y))];
  layout.box = {
    x: left,
    y: top,
    width: Math.max(...layout.bays.map(({ x, width }) => x + width)) - left,
    height: Math.max(...layout.bays.map(({ y, height }) => y + height)) - top,
  };
  return layout;
}
