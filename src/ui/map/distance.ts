import { plateHeight, plateWidth } from '@/core/layout/bay';
import { segmentHeight, type DrawnSegment, type DrawnSite, type Picture } from './picture';
import { joinedIn, lookOf, type PortsNear, type SocketLook } from './sockets';

/** Pixels for one unit of the plane, from which devices are told apart, and from which ports are. */
const devicesFrom = 0.5;
const portsFrom = 1.35;
/** Where all ports of a switch can be told apart. */
export const portsToldFrom = 2.2;
/** On paper devices are drawn wherever they can be told apart at all. */
export const devicesDrawnFrom = 0.62;
/** the two pictures pass into each other over so much of the scale */
const passage = 0.12;

/** How visible devices are at a scale, 0 to 1; sites as a whole are the rest. */
export const devicesVisible = (scale: number): number =>
  Math.min(1, Math.max(0, (scale - devicesFrom + passage) / passage));
/** A scale at which one picture is seen, not two passing into each other: where a map comes to rest by itself. */
export const restingScale = (scale: number): number =>
  scale > devicesFrom - passage && scale < devicesFrom ? devicesFrom - passage : scale;
export const portsVisible = (scale: number): number =>
  Math.min(1, Math.max(0, (scale - portsFrom + passage) / passage));

/** Lines, marks and letters grow no more from here on: who comes nearer wants to see more, not larger. Divides measures of the plane. */
export const grownBy = (scale: number): number => Math.max(1, scale / 1.4);

/** Sites that somebody folded or unfolded, whatever the distance. */
export interface Folding {
  folded: ReadonlySet<string>;
  open: ReadonlySet<string>;
}

/** How visible the inside of a site is. */
export function insideVisible(site: string, scale: number, { folded, open }: Folding): number {
  if (folded.has(site)) return 0;
  if (open.has(site)) return 1;
  return devicesVisible(scale);
}

/** A site as one plate: as large on the screen at every scale, but no larger than its bay. */
export function sitePlate(
  { bay }: Pick<DrawnSite, 'bay'>,
  scale: number,
): { x: number; y: number; width: number; height: number } {
  const width = Math.min(bay.width, 152 / scale);
  const height = Math.min(bay.height, 46 / scale, width * 0.34);
  return { x: bay.x + (bay.width - width) / 2, y: bay.y + (bay.height - height) / 2, width, height };
}

/** What nobody asked as a small plate: around its middle, no larger from near than can be read. */
export function segmentBox(
  { x, y, width }: Pick<DrawnSegment, 'x' | 'y' | 'width'>,
  scale: number,
): { x: number; y: number; width: number; height: number } {
  const grown = grownBy(scale);
  const [own, high] = [width / grown, segmentHeight / grown];
  return { x: x + (width - own) / 2, y: y + (segmentHeight - high) / 2, width: own, height: high };
}

/** Whether anything of a picture is inside a part of the plane. */
export interface Window {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
export const touches = (window: Window, x: number, y: number, width: number, height: number): boolean =>
  x < window.right && x + width > window.left && y < window.bottom && y + height > window.top;

/** What is on the screen, for the legend: colours with their words, and which kinds of lines and marks. */
export interface InSight {
  colours: { words: string; tint: string; line: boolean }[];
  /** how ports look, each kind once */
  ports: Pick<SocketLook, 'words' | 'tint' | 'shape'>[];
  solid: boolean;
  dashed: boolean;
  dotted: boolean;
  rests: boolean;
  wrong: boolean;
  silent: boolean;
  /** somebody works on something, or will */
  works: boolean;
}

export function inSightOf(
  picture: Picture,
  window: Window,
  scale: number,
  folding: Folding,
  ports?: PortsNear,
): InSight {
  const colours = new Map<string, InSight['colours'][number]>();
  const found: InSight = {
    colours: [],
    ports: [],
    solid: false,
    dashed: false,
    dotted: false,
    rests: false,
    wrong: false,
    silent: false,
    works: false,
  };
  const add = (words: string, tint: string, line: boolean) => {
    if (words && !colours.has(`${words}${line}`)) colours.set(`${words}${line}`, { words, tint, line });
  };
  const inside = new Map(picture.sites.map(({ bay }) => [bay.site, insideVisible(bay.site, scale, folding) > 0.5]));
  for (const { link, from, to, shown, pale, dash } of picture.links) {
    const seen = inside.get(from.device.site) || inside.get(to.device.site);
    if (pale || (!seen && from.device.site === to.device.site)) continue;
    const [left, right] = from.x < to.x ? [from, to] : [to, from];
    const [upper, lower] = from.y < to.y ? [from, to] : [to, from];
    if (!touches(window, left.x, upper.y, right.x - left.x + plateWidth, lower.y - upper.y + plateHeight)) continue;
    add(shown.words, shown.tint, true);
    if (link.issues.length > 0) found.wrong = true;
    if (!seen) {
      // many are one line, which is whole if any of them is sure
      found.solid ||= dash.length === 0;
      continue;
    }
    if (link.blocked) found.rests = true;
    if (dash.length === 0) found.solid = true;
    else if (dash[0] === 9) found.dashed = true;
    else if (dash[0] === 1.5) found.dotted = true;
  }
  for (const { device, x, y, shown, pale, mark } of picture.plates) {
    if (!touches(window, x, y, plateWidth, plateHeight)) continue;
    if (pale) continue;
    if (mark === 'silent') found.silent = true;
    if (mark === 'fault') found.wrong = true;
    if (!inside.get(device.site)) continue;
    if (device.works) found.works = true;
    add(shown.words, shown.tint, false);
    const own = portsVisible(scale) > 0.5 ? ports?.get(device.id) : undefined;
    for (const port of own?.ports ?? []) {
      const look = lookOf(port, joinedIn(picture)(device.id, port) !== undefined, picture.rule);
      if (look.shape === 'wedge') found.wrong = true;
      else if (look.words && !found.ports.some(({ words }) => words === look.words)) found.ports.push(look);
    }
  }
  return { ...found, colours: [...colours.values()] };
}
