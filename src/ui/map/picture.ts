import { plateHeight, plateWidth } from '@/core/layout/bay';
import { outlineOf } from '@/core/layout/outline';
import { segmentsOf } from '@/core/map/segments';
import type { Bay, MapLayout } from '@/core/layout/estateLayout';
import type { MapData, MapDevice, MapLink } from '@/core/map/mapData';
import type { OverlayRule, Shown } from '@/core/map/overlay';

/** A device as it stands on the map. */
export interface DrawnPlate {
  device: MapDevice;
  x: number;
  y: number;
  tab: string;
  /** what its right end says: silent, faulty, gone, new */
  mark: 'none' | 'silent' | 'fault' | 'gone' | 'added';
  shown: Shown;
  pale: boolean;
}

export interface DrawnLink {
  link: MapLink;
  from: DrawnPlate;
  to: DrawnPlate;
  width: number;
  dash: number[];
  shown: Shown;
  pale: boolean;
  /** where it leaves each of its plates: from the middle of the plate so far across and down */
  leaves: { from: Point; to: Point };
  /** from plate to plate, and what it lies within; the same from wherever it is looked at */
  curve: Curve;
  within: { left: number; top: number; right: number; bottom: number };
}

/** A site as a whole. */
export interface DrawnSite {
  bay: Bay;
  devices: DrawnPlate[];
  endpoints: number;
  worst: DrawnPlate['mark'];
  /** devices and links within it that differ from the survey compared with */
  changed: number;
  /** links within it that are gone, or have something wrong */
  broken: number;
  pale: boolean;
}

/** All links between two sites. */
export interface DrawnBundle {
  from: DrawnSite;
  to: DrawnSite;
  links: DrawnLink[];
  shown: Shown;
  pale: boolean;
  faults: number;
}

export interface Picture {
  layout: MapLayout;
  plates: DrawnPlate[];
  links: DrawnLink[];
  sites: DrawnSite[];
  bundles: DrawnBundle[];
  /** what nobody asked: between devices, or with the machines on a port */
  segments: DrawnSegment[];
  /** how ports are coloured, which stand on no plate before somebody comes near */
  rule: OverlayRule;
  /** around the devices of a group, site by site */
  outlines: { site: DrawnSite; words: string; corners: Point[] }[];
}

/** Something that nobody asked, as a small plate: in the middle of those it joins, or below the one it hangs on. */
export interface DrawnSegment {
  /** what is chosen with it: the port it hangs on, or one of the links through it */
  sel: string;
  words: string;
  x: number;
  y: number;
  width: number;
  joins: DrawnPlate[];
  pale: boolean;
}

export const segmentHeight = 13;

export const tabs: Record<string, string> = {
  switch: 'SW',
  router: 'RT',
  firewall: 'FW',
  server: 'SV',
  hypervisor: 'HV',
  'virtual-machine': 'VM',
  'wireless-controller': 'WC',
  'access-point': 'AP',
  'fabric-controller': 'FC',
  printer: 'PR',
  phone: 'PH',
  camera: 'CA',
  power: 'PW',
  host: 'HO',
  unknown: '?',
};

/** What is looked for: everything where a set is null. */
export interface Wanted {
  devices: ReadonlySet<number> | null;
  links: ReadonlySet<string> | null;
  /** what is not looked for is left away, not only pale */
  hide: boolean;
  /** the group around whose devices a line is drawn */
  outlined?: string | null;
}

const marks: readonly DrawnPlate['mark'][] = ['fault', 'silent', 'gone', 'added', 'none'];

/** Puts data, places and colours together. */
export function pictureOf(data: MapData, layout: MapLayout, rule: OverlayRule, wanted: Wanted): Picture {
  const placeOf = new Map(layout.plates.map((plate) => [plate.id, plate]));
  const isWanted = (device: MapDevice) => wanted.devices === null || wanted.devices.has(device.id);
  const plates = new Map<number, DrawnPlate>();
  for (const device of data.devices) {
    const place = placeOf.get(device.id);
    if (!place || (wanted.hide && !isWanted(device))) continue;
    const shown = rule.device(device);
    const mark =
      device.change === 'gone'
        ? 'gone'
        : device.state === 'silent'
          ? 'silent'
          : device.state === 'partial' || device.faults > 0
            ? 'fault'
            : device.change === 'added'
              ? 'added'
              : 'none';
    plates.set(device.id, {
      device,
      x: place.x,
      y: place.y,
      tab: tabs[device.role] ?? '?',
      mark,
      shown,
      pale: shown.pale || !isWanted(device),
    });
  }
  const links: DrawnLink[] = data.links.flatMap((link) => {
    const [from, to] = [plates.get(link.a.device), plates.get(link.b.device)];
    if (!from || !to) return [];
    const fits = wanted.links === null || wanted.links.has(link.id);
    if (wanted.hide && !fits) return [];
    const shown = rule.link(link);
    const near = wanted.devices === null || (wanted.devices.has(link.a.device) && wanted.devices.has(link.b.device));
    return [
      {
        link,
        from,
        to,
        width: widthOf(link),
        dash: dashOf(link),
        shown,
        pale: shown.pale || !fits || !near,
        leaves: { from: { x: 0, y: 0 }, to: { x: 0, y: 0 } },
        curve: noCurve,
        within: nowhere,
      },
    ];
  });
  const segments = segmentsDrawn(data, plates, links);
  // a link through something that nobody asked is drawn to what it leads through
  const through = new Set(segments.flatMap(({ links: own }) => own));
  const cables = links.filter(({ link }) => !through.has(link.id));
  spread(cables);
  for (const link of links) {
    link.curve = curveOf(link);
    link.within = around(link.curve);
  }
  // those that look alike stand together, so that they are drawn together
  links.sort(
    (x, y) =>
      Number(y.pale) - Number(x.pale) ||
      (x.shown.tint < y.shown.tint ? -1 : x.shown.tint > y.shown.tint ? 1 : 0) ||
      x.width - y.width ||
      x.dash.length - y.dash.length ||
      (x.dash[0] ?? 0) - (y.dash[0] ?? 0),
  );
  const grouped = bySite(layout, [...plates.values()], links);
  return {
    layout,
    plates: [...plates.values()],
    links,
    rule,
    ...grouped,
    segments: segments.map(({ drawn }) => drawn),
    outlines: outlinesOf(grouped.sites, wanted.outlined ?? null),
  };
}

function segmentsDrawn(
  data: MapData,
  plates: ReadonlyMap<number, DrawnPlate>,
  links: readonly DrawnLink[],
): { drawn: DrawnSegment; links: string[] }[] {
  const palePlate = (joins: readonly DrawnPlate[]) => joins.every(({ pale }) => pale);
  const shownLinks = new Set(links.map(({ link }) => link.id));
  const between = segmentsOf(data.links.filter(({ id }) => shownLinks.has(id))).flatMap(({ ports, links: own }) => {
    const joins = [...new Set(ports.flatMap(({ device }) => plates.get(device) ?? []))];
    const [first] = own;
    if (joins.length < 2 || first === undefined) return [];
    const words = 'nobody asked';
    const width = widthOfWords(words);
    const middle = (k: 'x' | 'y') => joins.reduce((sum, plate) => sum + plate[k], 0) / joins.length;
    return [
      {
        links: own,
        drawn: {
          sel: `link:${first}`,
          words,
          x: middle('x') + (plateWidth - width) / 2,
          y: middle('y') + (plateHeight - segmentHeight) / 2,
          width,
          joins,
          pale: palePlate(joins),
        },
      },
    ];
  });
  const hanging = new Map<number, number>();
  const onPorts = data.segments.flatMap(({ device, port, machines }) => {
    const plate = plates.get(device);
    if (!plate) return [];
    const words = `${port}: ${machines} machines`;
    const before = hanging.get(device) ?? 0;
    const width = widthOfWords(words);
    hanging.set(device, before + width + 4);
    // beside the links that leave below, in the gap to the next plate
    return [
      {
        links: [],
        drawn: {
          sel: `port:${device}:${port}`,
          words,
          x: plate.x + plateWidth - width / 2 + before,
          y: plate.y + plateHeight + 3,
          width,
          joins: [plate],
          pale: plate.pale,
        },
      },
    ];
  });
  return [...between, ...onPorts];
}

const widthOfWords = (words: string): number => 12 + words.length * 4.6;

const margin = 7;

function outlinesOf(sites: readonly DrawnSite[], group: string | null): Picture['outlines'] {
  if (group === null) return [];
  return sites.flatMap((site) => {
    const members = site.devices.filter(({ device }) => device.groups?.includes(group));
    return members.length === 0
      ? []
      : [
          {
            site,
            words: group,
            corners: outlineOf(
              members.map(({ x, y }) => ({ x, y, width: plateWidth, height: plateHeight })),
              margin,
            ),
          },
        ];
  });
}

/** Around all that is shown: with what is left away, less than the whole map; one that somebody put elsewhere may stand outside its bay. */
export function boxOf({ sites, plates }: Pick<Picture, 'sites' | 'plates'>): {
  x: number;
  y: number;
  width: number;
  height: number;
} {
  if (sites.length === 0) return { x: 0, y: 0, width: 0, height: 0 };
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  const take = (x: number, y: number, width: number, height: number) =>
    ([left, top, right, bottom] = [
      Math.min(left, x),
      Math.min(top, y),
      Math.max(right, x + width),
      Math.max(bottom, y + height),
    ]);
  for (const { bay } of sites) take(bay.x, bay.y, bay.width, bay.height);
  for (const { x, y } of plates) take(x, y, plateWidth, plateHeight);
  return { x: left, y: top, width: right - left, height: bottom - top };
}

function widthOf({ speedBps, kind }: MapLink): number {
  const speed = speedBps ?? 0;
  return (speed >= 4e10 ? 4.5 : speed >= 1e10 ? 3 : speed >= 1e9 ? 2 : 1.4) + (kind === 'lag' ? 1.5 : 0);
}

function dashOf({ change, confidence, segment }: MapLink): number[] {
  if (change === 'gone') return [2, 6];
  if (segment) return [1.5, 4];
  return confidence === 'confirmed' ? [] : confidence === 'claimed' ? [9, 5] : [1.5, 4];
}

function markSite(site: DrawnSite, mark: DrawnPlate['mark']): void {
  if (marks.indexOf(mark) < marks.indexOf(site.worst)) site.worst = mark;
}

/** What a link within a site makes of it: from afar nothing else tells of it. */
function inSite(site: DrawnSite, { change, issues, spareLost }: MapLink): void {
  const isFaulty = issues.length > 0 || Boolean(spareLost);
  if (change) site.changed++;
  if (isFaulty || change === 'gone') site.broken++;
  if (isFaulty) markSite(site, 'fault');
  else if (change === 'gone') markSite(site, 'gone');
}

function bySite(layout: MapLayout, plates: DrawnPlate[], links: DrawnLink[]): Pick<Picture, 'sites' | 'bundles'> {
  const sites = new Map(
    layout.bays.map((bay): [string, DrawnSite] => [
      bay.site,
      { bay, devices: [], endpoints: 0, worst: 'none', changed: 0, broken: 0, pale: true },
    ]),
  );
  for (const plate of plates) {
    const site = sites.get(plate.device.site);
    if (!site) continue;
    site.devices.push(plate);
    site.endpoints += plate.device.endpoints;
    markSite(site, plate.mark);
    if (plate.device.change) site.changed++;
    if (!plate.pale) site.pale = false;
  }
  const bundles = new Map<string, DrawnBundle>();
  for (const drawn of links) {
    const [from, to] = [sites.get(drawn.from.device.site), sites.get(drawn.to.device.site)];
    if (!from || !to) continue;
    if (from === to) {
      inSite(from, drawn.link);
      continue;
    }
    const [first, second] = from.bay.site < to.bay.site ? [from, to] : [to, from];
    const key = `${first.bay.site}\n${second.bay.site}`;
    let bundle = bundles.get(key);
    if (!bundle)
      bundles.set(key, (bundle = { from: first, to: second, links: [], shown: drawn.shown, pale: true, faults: 0 }));
    bundle.links.push(drawn);
    if (drawn.link.issues.length > 0) bundle.faults++;
    if (!drawn.pale) {
      if (bundle.pale || worth(drawn.shown) > worth(bundle.shown)) bundle.shown = drawn.shown;
      bundle.pale = false;
    }
  }
  return { sites: [...sites.values()].filter(({ devices }) => devices.length > 0), bundles: [...bundles.values()] };
}

/** Of several colours on one line the one that must not be overlooked. */
const worth = ({ tint }: Shown): number => (tint === 'bad' ? 3 : tint === 'caution' ? 2 : tint === 'ink3' ? 0 : 1);

export interface Point {
  x: number;
  y: number;
}

/** A cubic curve of Bézier: its ends and, between them, its control points. */
export type Curve = [Point, Point, Point, Point];
const noCurve: Curve = [
  { x: 0, y: 0 },
  { x: 0, y: 0 },
  { x: 0, y: 0 },
  { x: 0, y: 0 },
];
const nowhere = { left: 0, top: 0, right: 0, bottom: 0 };

/** A box that holds a curve: that of its four points. */
export function around([p0, p1, p2, p3]: Curve): DrawnLink['within'] {
  return {
    left: Math.min(p0.x, p1.x, p2.x, p3.x),
    top: Math.min(p0.y, p1.y, p2.y, p3.y),
    right: Math.max(p0.x, p1.x, p2.x, p3.x),
    bottom: Math.max(p0.y, p1.y, p2.y, p3.y),
  };
}

type Side = 'above' | 'below' | 'left' | 'right';

/** At which sides of their plates two devices are joined: above and below each other where they are, else beside. */
function sidesOf(from: Pick<DrawnPlate, 'x' | 'y'>, to: Pick<DrawnPlate, 'x' | 'y'>): [Side, Side] {
  if (Math.abs(from.y - to.y) < plateHeight) return from.x < to.x ? ['right', 'left'] : ['left', 'right'];
  return from.y < to.y ? ['below', 'above'] : ['above', 'below'];
}

/** Links leave a plate side by side, in the order in which their other ends lie, so that none hides another and each has room for the name of its port. */
function spread(links: DrawnLink[]): void {
  const leaving = new Map<string, { link: DrawnLink; end: 'from' | 'to'; side: Side; far: DrawnPlate }[]>();
  for (const link of links) {
    const [near, far] = sidesOf(link.from, link.to);
    for (const [end, side, own, other] of [
      ['from', near, link.from, link.to],
      ['to', far, link.to, link.from],
    ] as const) {
      const key = `${own.device.id} ${side}`;
      const known = leaving.get(key);
      if (known) known.push({ link, end, side, far: other });
      else leaving.set(key, [{ link, end, side, far: other }]);
    }
  }
  for (const ends of leaving.values()) {
    const across = ends[0]?.side === 'above' || ends[0]?.side === 'below';
    ends.sort(
      (x, y) =>
        (across ? x.far.x - y.far.x : x.far.y - y.far.y) ||
        x.far.device.id - y.far.device.id ||
        (x.link.link.id < y.link.link.id ? -1 : 1),
    );
    const room = across ? plateWidth - 2 * plateHeight : plateHeight * 0.5;
    const step = Math.min(across ? 18 : 7, room / Math.max(1, ends.length - 1));
    ends.forEach(({ link, end, side }, at) => {
      const along = (at - (ends.length - 1) / 2) * step;
      link.leaves[end] = across
        ? { x: along, y: side === 'below' ? plateHeight / 2 : -plateHeight / 2 }
        : { x: side === 'right' ? plateWidth / 2 : -plateWidth / 2, y: along };
    });
  }
}

/** The two ends and control points of a link: straight beside each other, else a smooth curve from edge to edge. */
export function curveOf({
  from,
  to,
  leaves,
}: Pick<DrawnLink, 'leaves'> & { from: Pick<DrawnPlate, 'x' | 'y'>; to: Pick<DrawnPlate, 'x' | 'y'> }): [
  Point,
  Point,
  Point,
  Point,
] {
  const end = (plate: Pick<DrawnPlate, 'x' | 'y'>, leave: Point) => ({
    x: plate.x + plateWidth / 2 + leave.x,
    y: plate.y + plateHeight / 2 + leave.y,
  });
  const [start, finish] = [end(from, leaves.from), end(to, leaves.to)];
  const [near] = sidesOf(from, to);
  if (near === 'left' || near === 'right') {
    const bend = Math.abs(finish.x - start.x) > plateWidth * 1.5 ? 34 : 0;
    const out = near === 'right' ? 30 : -30;
    return [start, { x: start.x + out, y: start.y - bend }, { x: finish.x - out, y: finish.y - bend }, finish];
  }
  const height = (start.y + finish.y) / 2;
  return [start, { x: start.x, y: height }, { x: finish.x, y: height }, finish];
}

export function pointOnCurve([p0, p1, p2, p3]: Curve, t: number): Point {
  const u = 1 - t;
  const [a, b, c, d] = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t];
  return { x: a * p0.x + b * p1.x + c * p2.x + d * p3.x, y: a * p0.y + b * p1.y + c * p2.y + d * p3.y };
}

export const centreOf = ({ bay }: Pick<DrawnSite, 'bay'>): Point => ({
  x: bay.x + bay.width / 2,
  y: bay.y + bay.height / 2,
});
