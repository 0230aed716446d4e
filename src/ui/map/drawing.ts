import { plateHeight, plateWidth } from '@/core/layout/bay';
import { drawSockets, nameOnPlate } from './drawSockets';
import {
  grownBy,
  insideVisible,
  portsVisible,
  segmentBox,
  sitePlate,
  touches,
  type Folding,
  type Window,
} from './distance';
import type { Palette } from './palette';
import type { Pen } from './pen';
import {
  around,
  centreOf,
  pointOnCurve,
  type Curve,
  type DrawnBundle,
  type DrawnLink,
  type DrawnPlate,
  type DrawnSegment,
  type DrawnSite,
  type Picture,
  type Point,
} from './picture';
import { newsOf } from './newsOf';
import { joinedIn, nearTab, portOfSel, type PortsNear } from './sockets';

export interface Sight {
  scale: number;
  window: Window;
  folding: Folding;
  /** `device:12`, `link:…`, `site:RPW`, `port:12:A1` */
  chosen: string | null;
  /** ports of those that are near enough for them, as far as they are there yet */
  ports?: PortsNear;
  /** while it is dragged or turned about: lines without dashes, and no small print */
  quick?: boolean;
}

export const paleness = 0.16;

/** Draws what is inside the window, from as far as the scale says. */
export function draw(pen: Pen, picture: Picture, colours: Palette, sight: Sight): void {
  const { scale, window, folding, chosen, quick = false } = sight;
  const chosenLink = linkChosen(picture, sight);
  const grown = grownBy(scale);
  const inside = new Map(picture.sites.map((site) => [site.bay.site, insideVisible(site.bay.site, scale, folding)]));
  for (const site of picture.sites)
    if (touches(window, site.bay.x, site.bay.y, site.bay.width, site.bay.height))
      drawBay(pen, site, colours, inside.get(site.bay.site) ?? 0, chosen === `site:${site.bay.site}`, quick, grown);
  for (const bundle of picture.bundles)
    drawBundle(
      pen,
      bundle,
      picture.sites,
      colours,
      sight,
      (1 - (inside.get(bundle.from.bay.site) ?? 0)) * (1 - (inside.get(bundle.to.bay.site) ?? 0)),
    );
  for (const { site, words, corners } of picture.outlines)
    drawOutline(pen, words, corners, colours, inside.get(site.bay.site) ?? 0);
  const ports = quick ? 0 : portsVisible(scale);
  const siteOf = new Map(picture.sites.map((site) => [site.bay.site, site]));
  const seen: { link: DrawnLink; curve: Curve; visible: number }[] = [];
  for (const link of picture.links) {
    // drawn to what it leads through
    if (link.link.segment) continue;
    const [near, far] = [inside.get(link.from.device.site) ?? 0, inside.get(link.to.device.site) ?? 0];
    // a link that ends in a folded site ends at its plate
    const visible = link.from.device.site === link.to.device.site ? near : Math.max(near, far);
    if (visible <= 0.02) continue;
    const folded = {
      from: near < 0.02 ? (siteOf.get(link.from.device.site) ?? null) : null,
      to: far < 0.02 ? (siteOf.get(link.to.device.site) ?? null) : null,
    };
    const unfolded = !folded.from && !folded.to;
    if (unfolded && !isWithin(window, link.within)) continue;
    const curve = shownCurve(link, scale, folded);
    if (!unfolded && !isWithin(window, around(curve))) continue;
    drawLine(pen, link, curve, colours, { quick, grown, chosen: chosenLink === link.link.id }, visible);
    seen.push({ link, curve, visible });
  }
  // all lines first: what is drawn alike is drawn in one stroke
  for (const { link, curve, visible } of seen)
    drawOnLine(pen, link, curve, colours, { grown, chosen: chosenLink === link.link.id }, visible, ports);
  for (const segment of picture.segments) {
    const visible = Math.max(0, ...segment.joins.map((plate) => inside.get(plate.device.site) ?? 0));
    if (visible > 0.02) drawSegment(pen, segment, colours, { visible, scale }, chosen === segment.sel);
  }
  const plates = picture.plates.filter(
    (plate) =>
      (inside.get(plate.device.site) ?? 0) > 0.02 && touches(window, plate.x, plate.y, plateWidth, plateHeight),
  );
  // what is written alike is written together
  const near = portsVisible(scale);
  const tabWidth = 30 + (nearTab - 30) * near;
  for (const drawPart of [drawPlate, drawTab])
    for (const plate of plates)
      drawPart(
        pen,
        plate,
        colours,
        { visible: inside.get(plate.device.site) ?? 0, tabWidth, grown },
        chosen === `device:${plate.device.id}`,
      );
  for (const plate of plates)
    nameOnPlate(
      pen,
      plate,
      colours,
      alphaOfPlate(plate, chosen === `device:${plate.device.id}`, inside.get(plate.device.site) ?? 0),
      { scale, near, told: sight.ports?.get(plate.device.id)?.ports.length },
    );
  if (near > 0.02 && sight.ports)
    drawSockets(
      pen,
      picture,
      plates.map((plate) => ({ plate, alpha: near * alphaOfPlate(plate, false, inside.get(plate.device.site) ?? 0) })),
      colours,
      { scale, quick, ports: sight.ports, chosen: portOfSel(chosen) },
    );
  for (const site of picture.sites) {
    const visible = 1 - (inside.get(site.bay.site) ?? 0);
    if (visible > 0.02 && touches(window, site.bay.x, site.bay.y, site.bay.width, site.bay.height))
      drawSite(pen, site, colours, scale, visible, chosen === `site:${site.bay.site}`);
  }
  for (const { site } of picture.outlines) {
    const visible = 1 - (inside.get(site.bay.site) ?? 0);
    const { x, y, width, height } = sitePlate(site, scale);
    if (visible > 0.02)
      pen.box(
        x - 4 / scale,
        y - 4 / scale,
        width + 8 / scale,
        height + 8 / scale,
        height * 0.3,
        null,
        { colour: colours.plum, width: 2 / scale, dash: [6 / scale, 4 / scale] },
        visible,
      );
  }
}

/** The link that is chosen, or the one whose port is. */
function linkChosen(picture: Picture, { chosen, ports }: Sight): string | null {
  if (chosen?.startsWith('link:')) return chosen.slice('link:'.length);
  const own = portOfSel(chosen);
  if (!own) return null;
  return (
    joinedIn(picture)(own.device, ports?.get(own.device)?.ports.find(({ name }) => name === own.name) ?? own)?.link
      .id ?? null
  );
}

/** Something that nobody asked: a small plate, dotted, joined to whatever leads to it. */
function drawSegment(
  pen: Pen,
  segment: DrawnSegment,
  colours: Palette,
  { visible, scale }: { visible: number; scale: number },
  chosen: boolean,
): void {
  const { words, joins, pale } = segment;
  const { x, y, width, height } = segmentBox(segment, scale);
  const grown = grownBy(scale);
  const alpha = (pale ? paleness * 1.6 : 1) * visible;
  const stroke = {
    colour: chosen ? colours.ember : colours.ink3,
    width: (chosen ? 2 : 1.2) / grown,
    dash: [1.5 / grown, 3 / grown],
  };
  const [middle, top] = [x + width / 2, y + height / 2];
  for (const plate of joins) {
    const end = { x: joins.length === 1 ? middle : plate.x + plateWidth / 2, y: plate.y + plateHeight / 2 };
    pen.curve([end, { x: end.x, y: (end.y + top) / 2 }, { x: middle, y: (end.y + top) / 2 }, { x: middle, y: top }], {
      ...stroke,
      alpha: 0.85 * alpha,
    });
  }
  pen.box(x, y, width, height, height / 2, colours.ground, stroke, alpha);
  pen.text(words, middle, y + height * 0.73, { size: 8.5 / grown, colour: colours.ink2, align: 'center', alpha });
}

/** A group of devices within a site. */
function drawOutline(pen: Pen, words: string, corners: readonly Point[], colours: Palette, visible: number): void {
  if (visible <= 0.02) return;
  pen.outline(corners, { colour: colours.plum, width: 2, dash: [6, 4], alpha: visible }, colours.plum);
  // below it: above stand the names of the site and its terraces
  const [lower] = [...corners].sort((a, b) => b.y - a.y || a.x - b.x);
  if (lower)
    pen.text(words, lower.x + 4, lower.y + 10, { size: 10.5, weight: 600, colour: colours.plum, alpha: visible });
}

function drawBay(
  pen: Pen,
  { bay, pale }: DrawnSite,
  colours: Palette,
  visible: number,
  chosen: boolean,
  quick: boolean,
  grown: number,
): void {
  const alpha = pale ? paleness * 2 : 1;
  pen.box(
    bay.x,
    bay.y,
    bay.width,
    bay.height,
    6,
    null,
    { colour: chosen ? colours.ember : colours.line, width: (chosen ? 2 : 1) / grown },
    alpha * (chosen ? 1 : 0.4 + 0.6 * visible),
  );
  if (visible <= 0.02) return;
  pen.text(bay.site || 'no site', bay.x + 12, bay.y + 16, {
    size: 13 / grown,
    weight: 650,
    colour: colours.ink2,
    alpha: alpha * visible,
  });
  for (const terrace of bay.terraces) {
    pen.box(bay.x + 4, terrace.y, bay.width - 8, terrace.height, 3, colours.sunken, null, 0.6 * alpha * visible);
    if (!quick)
      pen.text(terrace.label, bay.x + 12, terrace.y + 13, {
        size: 10.5 / grown,
        colour: colours.ink3,
        alpha: alpha * visible,
      });
  }
}

/** Pixels of letters that can be read at all. */
const smallestLetters = 9;

/** A site from afar: its code, how much is in it, and the worst of its states. */
function drawSite(pen: Pen, site: DrawnSite, colours: Palette, scale: number, visible: number, chosen: boolean): void {
  const { x, y, width, height } = sitePlate(site, scale);
  const alpha = (site.pale ? paleness * 2 : 1) * visible;
  // nothing shines through one that is pale
  if (alpha < visible) pen.box(x, y, width, height, height * 0.24, colours.ground, null, visible);
  pen.box(
    x,
    y,
    width,
    height,
    height * 0.24,
    colours.panel,
    { colour: chosen ? colours.ember : colours.ink3, width: (chosen ? 2.4 : 1) / scale },
    alpha,
  );
  pen.tab(x, y, width * 0.045, height, height * 0.24, colours.lagoon, alpha);
  const count = `${site.devices.length} ${site.devices.length === 1 ? 'device' : 'devices'}`;
  pen.text(site.bay.site || 'no site', x + width * 0.1, y + height * 0.44, {
    size: height * 0.34,
    weight: 650,
    colour: colours.ink,
    alpha,
    widest: width * 0.7,
  });
  // what is new or wrong within goes before how many hang on it
  const news = newsOf(site);
  const endpoints = site.endpoints > 0 ? [`${site.endpoints} endpoints`] : [];
  // where both cannot be read, one can
  const small = height * 0.25 * scale < smallestLetters;
  pen.text(
    small ? (news[0] ?? count) : [count, ...(news.length > 0 ? news : endpoints)].join(', '),
    x + width * 0.1,
    y + height * 0.8,
    { size: height * (small ? 0.32 : 0.25), colour: colours.ink2, alpha, widest: width * 0.86 },
  );
  drawMark(pen, site.worst, x + width - height * 0.34, y + height * 0.32, height * 0.22, colours, alpha);
}

function drawMark(
  pen: Pen,
  mark: DrawnPlate['mark'],
  x: number,
  y: number,
  size: number,
  colours: Palette,
  alpha: number,
): void {
  if (mark === 'fault') pen.wedge(x - size * 0.6, y - size * 0.6, size * 1.2, colours.bad, alpha);
  if (mark === 'silent')
    pen.ring(x, y, size * 0.5, { colour: colours.caution, width: size * 0.2, dash: [size * 0.2, size * 0.24], alpha });
}

/** At how many points of a curve it is looked whether it lies on a plate. */
const looks = 24;

/** Bends that were found, by the size of plates for which they were: what is dragged about or turned a little stays bent as it is. */
const bends = new WeakMap<object, Map<number, number>>();
const sizeOf = (scale: number): number => Math.round(Math.log2(scale) * 3);

/** The line of a bundle from plate to plate; around the plates of other sites that lie on its way, as little as need be. */
export function bundleCurve(
  bundle: Pick<DrawnBundle, 'from' | 'to'>,
  scale: number,
  sites: readonly DrawnSite[],
): Curve {
  const size = sizeOf(scale);
  let known = bends.get(bundle);
  if (!known) bends.set(bundle, (known = new Map()));
  let bend = known.get(size);
  if (bend === undefined) known.set(size, (bend = bendOf(bundle, 2 ** (size / 3), sites)));
  return bent(bundle, scale, bend);
}

/** Aside of the straight way, and how long that is. */
function wayOf({ from, to }: Pick<DrawnBundle, 'from' | 'to'>) {
  const [a, b] = [centreOf(from), centreOf(to)];
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  return { a, b, length, aside: { x: -(b.y - a.y) / length, y: (b.x - a.x) / length } };
}

function bent(bundle: Pick<DrawnBundle, 'from' | 'to'>, scale: number, bend: number): Curve {
  const { a, b, aside } = wayOf(bundle);
  // a curve comes three quarters as far as its control points
  const control = (part: number) => ({
    x: a.x + (b.x - a.x) * part + aside.x * bend * 1.34,
    y: a.y + (b.y - a.y) * part + aside.y * bend * 1.34,
  });
  const [near, far] = [control(1 / 3), control(2 / 3)];
  return [edgeOf(sitePlate(bundle.from, scale), a, near), near, far, edgeOf(sitePlate(bundle.to, scale), b, far)];
}

function bendOf(bundle: Pick<DrawnBundle, 'from' | 'to'>, scale: number, sites: readonly DrawnSite[]): number {
  const { a, b, length, aside } = wayOf(bundle);
  const others = sites.flatMap((site) => {
    if (site === bundle.from || site === bundle.to) return [];
    const centre = centreOf(site);
    const along = ((centre.x - a.x) * (b.x - a.x) + (centre.y - a.y) * (b.y - a.y)) / length;
    const off = (centre.x - a.x) * aside.x + (centre.y - a.y) * aside.y;
    const plate = sitePlate(site, scale);
    const reach = (Math.abs(aside.x) * plate.width + Math.abs(aside.y) * plate.height) / 2 + 10 / scale;
    const edge = 4 / scale;
    return along > 0 && along < length && Math.abs(off) < reach * 4
      ? [
          {
            off,
            reach,
            left: plate.x - edge,
            right: plate.x + plate.width + edge,
            top: plate.y - edge,
            bottom: plate.y + plate.height + edge,
          },
        ]
      : [];
  });
  const hits = (bend: number): number => {
    const line = bent(bundle, scale, bend);
    const points = Array.from({ length: looks - 1 }, (_, at) => pointOnCurve(line, (at + 1) / looks));
    const box = around(line);
    return others.filter(
      ({ left, right, top, bottom }) =>
        box.left < right &&
        box.right > left &&
        box.top < bottom &&
        box.bottom > top &&
        points.some(({ x, y }) => x > left && x < right && y > top && y < bottom),
    ).length;
  };
  const straight = hits(0);
  if (straight === 0) return 0;
  const [best] = [0, ...others.flatMap(({ off, reach }) => [off + reach, off - reach])]
    .map((bend) => ({ bend, hit: bend === 0 ? straight : hits(bend) }))
    .sort((x, y) => x.hit - y.hit || Math.abs(x.bend) - Math.abs(y.bend) || x.bend - y.bend);
  return best?.bend ?? 0;
}

function edgeOf({ width, height }: { width: number; height: number }, from: Point, towards: Point): Point {
  const [dx, dy] = [towards.x - from.x, towards.y - from.y];
  const part = Math.min(
    dx === 0 ? Infinity : width / 2 / Math.abs(dx),
    dy === 0 ? Infinity : height / 2 / Math.abs(dy),
    1,
  );
  return { x: from.x + dx * part, y: from.y + dy * part };
}

function drawBundle(
  pen: Pen,
  bundle: DrawnBundle,
  sites: readonly DrawnSite[],
  colours: Palette,
  { scale, window }: Sight,
  visible: number,
): void {
  if (visible <= 0.02) return;
  const curve = bundleCurve(bundle, scale, sites);
  const { left, top, right, bottom } = around(curve);
  if (!touches(window, left - 1, top - 1, right - left + 2, bottom - top + 2)) return;
  const alpha = (bundle.pale ? paleness : 0.9) * visible;
  const widest = Math.max(...bundle.links.map(({ width }) => width));
  const sure = bundle.links.some(({ dash }) => dash.length === 0);
  pen.curve(
    curve,
    {
      colour: colours[bundle.shown.tint],
      width: (widest + Math.min(3, (bundle.links.length - 1) * 0.6)) / scale,
      alpha,
      ...(!sure && { dash: [8 / scale, 5 / scale] }),
    },
    `${bundle.from.bay.site} — ${bundle.to.bay.site}`,
  );
  const { x, y } = pointOnCurve(curve, 0.5);
  if (bundle.faults > 0) pen.wedge(x - 7 / scale, y - 7 / scale, 14 / scale, colours.bad, alpha);
  else if (bundle.links.length > 1) {
    pen.box(x - 9 / scale, y - 8 / scale, 18 / scale, 16 / scale, 8 / scale, colours.ground, null, visible);
    pen.text(String(bundle.links.length), x, y + 4 / scale, {
      size: 11 / scale,
      weight: 600,
      colour: colours.ink2,
      align: 'center',
      alpha: (bundle.pale ? 0.4 : 1) * visible,
    });
  }
}

/** The curve of a link on the screen: to the plate of a folded site where its device is not to be seen. */
export function shownCurve(
  link: DrawnLink,
  scale: number,
  folded: { from: DrawnSite | null; to: DrawnSite | null },
): Curve {
  if (!folded.from && !folded.to) return link.curve;
  const middle = (plate: DrawnPlate) => ({ x: plate.x + plateWidth / 2, y: plate.y + plateHeight / 2 });
  const [a, b] = [
    folded.from ? centreOf(folded.from) : middle(link.from),
    folded.to ? centreOf(folded.to) : middle(link.to),
  ];
  const plate = { width: plateWidth, height: plateHeight };
  const start = edgeOf(folded.from ? sitePlate(folded.from, scale) : plate, a, b);
  const end = edgeOf(folded.to ? sitePlate(folded.to, scale) : plate, b, a);
  return [
    start,
    { x: start.x + (end.x - start.x) / 3, y: start.y + (end.y - start.y) / 3 },
    { x: start.x + ((end.x - start.x) * 2) / 3, y: start.y + ((end.y - start.y) * 2) / 3 },
    end,
  ];
}

const isWithin = (window: Window, { left, top, right, bottom }: DrawnLink['within']): boolean =>
  touches(window, left - 2, top - 2, right - left + 4, bottom - top + 4);

const alphaOf = ({ pale }: DrawnLink, chosen: boolean, visible: number): number =>
  (chosen ? 1 : pale ? paleness : 0.85) * visible;

function drawLine(
  pen: Pen,
  drawn: DrawnLink,
  curve: Curve,
  colours: Palette,
  { quick, grown, chosen }: { quick: boolean; grown: number; chosen: boolean },
  visible: number,
): void {
  const { link, width, shown } = drawn;
  const dash = quick ? [] : drawn.dash.map((length) => length / grown);
  pen.curve(
    curve,
    {
      colour: chosen ? colours.ember : colours[shown.tint],
      width: (chosen ? width + 1.5 : width) / grown,
      dash,
      alpha: alphaOf(drawn, chosen, visible),
    },
    pen.titled ? `${drawn.from.device.name} ${link.a.port} — ${drawn.to.device.name} ${link.b.port}` : undefined,
  );
}

/** What a line tells beside its colour: an aggregate, that it rests, that something is wrong, its ports. */
function drawOnLine(
  pen: Pen,
  drawn: DrawnLink,
  curve: Curve,
  colours: Palette,
  { grown, chosen }: { grown: number; chosen: boolean },
  visible: number,
  ports: number,
): void {
  const { link, width, pale } = drawn;
  const alpha = alphaOf(drawn, chosen, visible);
  // an aggregate is a double line
  if (link.kind === 'lag') pen.curve(curve, { colour: colours.ground, width: Math.max(1, width - 3) / grown, alpha });
  if (link.blocked) {
    const { x, y } = pointOnCurve(curve, 0.5);
    pen.box(
      x - 7 / grown,
      y - 2 / grown,
      14 / grown,
      4 / grown,
      1 / grown,
      colours.caution,
      { colour: colours.ground, width: 1.5 / grown },
      alpha,
    );
  }
  if (link.issues.length > 0) {
    const { x, y } = pointOnCurve(curve, link.blocked ? 0.38 : 0.5);
    pen.wedge(x - 6 / grown, y - 6 / grown, 12 / grown, colours.bad, alpha);
  }
  if (ports > 0.02 && !pale) {
    for (const [port, at] of [
      [link.a.port, 0.14],
      [link.b.port, 0.86],
    ] as const) {
      if (!port) continue;
      const { x, y } = pointOnCurve(curve, at);
      pen.text(port, x + 3 / grown, y + 3 / grown, { size: 8 / grown, colour: colours.ink2, alpha: ports * visible });
    }
  }
}

const alphaOfPlate = ({ pale }: DrawnPlate, chosen: boolean, visible: number): number =>
  (pale && !chosen ? paleness * 1.6 : 1) * visible;

interface PlateSight {
  visible: number;
  tabWidth: number;
  grown: number;
}

function drawPlate(
  pen: Pen,
  plate: DrawnPlate,
  colours: Palette,
  { visible, tabWidth, grown }: PlateSight,
  chosen: boolean,
): void {
  const { x, y, mark, shown } = plate;
  const alpha = alphaOfPlate(plate, chosen, visible);
  const radius = plateHeight / 2;
  const tint = colours[shown.tint];
  const plainTint = shown.tint === 'ink3';
  // somebody works on it, or will
  if (plate.device.works)
    pen.box(
      x - 4,
      y - 4,
      plateWidth + 8,
      plateHeight + 8,
      radius + 4,
      null,
      { colour: colours.ember, width: 1.4 / grown, dash: [5, 4] },
      alpha,
    );
  if (alpha < visible) pen.box(x, y, plateWidth, plateHeight, radius, colours.ground, null, visible);
  pen.box(
    x,
    y,
    plateWidth,
    plateHeight,
    radius,
    colours.panel,
    {
      colour: chosen ? colours.ember : tint,
      width: (chosen ? 2.4 : plainTint ? 1 : 2.2) / grown,
      ...(mark === 'gone' && { dash: [4, 3] }),
    },
    alpha,
  );
  pen.tab(x + 0.5, y + 0.5, tabWidth, plateHeight - 1, radius - 0.5, plainTint ? colours.lagoon : tint, alpha);
  drawMark(
    pen,
    mark,
    x + plateWidth - 13 + (grown - 1) / grown,
    y + plateHeight / 2 - (7 * (grown - 1)) / grown,
    9 / grown,
    colours,
    alpha,
  );
}

function drawTab(
  pen: Pen,
  plate: DrawnPlate,
  colours: Palette,
  { visible, tabWidth, grown }: PlateSight,
  chosen: boolean,
): void {
  const size = 11 / Math.max(grown, 30 / tabWidth);
  pen.text(plate.tab, plate.x + tabWidth / 2 + 2, plate.y + plateHeight / 2 + size * 0.36, {
    size,
    weight: 650,
    colour: colours.panel,
    align: 'center',
    alpha: alphaOfPlate(plate, chosen, visible),
  });
}
