import type { MapLayout } from './estateLayout';

/** Where somebody put a device, or the corner of a site’s bay, on the plane. */
export interface Pin {
  of: { device: number } | { site: string };
  x: number;
  y: number;
}

/** More would not go into an address any more. */
export const mostPins = 120;
const farthest = 100_000;
const grid = 4;

/** `device:12` or `site:RPW`, as things are chosen on the map. */
export const pinSel = ({ of }: Pick<Pin, 'of'>): string => ('device' in of ? `device:${of.device}` : `site:${of.site}`);

/** Pins as an address has them: `d12:-40:88,sRPW:400:0`. */
export function writePins(pins: readonly Pin[]): string {
  return pins
    .map(({ of, x, y }) => `${'device' in of ? `d${of.device}` : `s${encodeURIComponent(of.site)}`}:${x}:${y}`)
    .join(',');
}

/** The same read back; what is none is left out, and of several for one thing the last holds. */
export function parsePins(text: string | null): Pin[] {
  const found = new Map<string, Pin>();
  for (const part of (text ?? '').split(',').slice(0, mostPins)) {
    const [, kind, name = '', x, y] = /^([ds])([^:,]*):(-?\d{1,6}):(-?\d{1,6})$/.exec(part) ?? [];
    if (kind === undefined || Math.abs(Number(x)) > farthest || Math.abs(Number(y)) > farthest) continue;
    const of = kind === 's' ? siteOf(name) : /^[1-9]\d{0,9}$/.test(name) ? { device: Number(name) } : null;
    if (!of) continue;
    const pin = { of, x: Number(x), y: Number(y) };
    found.delete(pinSel(pin));
    found.set(pinSel(pin), pin);
  }
  return [...found.values()];
}

function siteOf(name: string): { site: string } | null {
  try {
    return { site: decodeURIComponent(name) };
  } catch {
    return null;
  }
}

/** Another pin, on the grid; the one its thing had before is gone. The oldest give way to those that are too many. */
export function withPin(pins: readonly Pin[], { of, x, y }: Pin): Pin[] {
  const pin = { of, x: Math.round(x / grid) * grid, y: Math.round(y / grid) * grid };
  return [...pins.filter((other) => pinSel(other) !== pinSel(pin)), pin].slice(-mostPins);
}

/** The layout with everything where somebody put it: a bay takes its devices along, a device goes alone, and what nobody touched stays. */
export function applyPins(
  layout: MapLayout,
  pins: readonly Pin[],
  siteOfDevice: (id: number) => string | undefined,
): MapLayout {
  if (pins.length === 0) return layout;
  const sites = new Map(pins.flatMap(({ of, x, y }) => ('site' in of ? [[of.site, { x, y }]] : [])));
  const devices = new Map(pins.flatMap(({ of, x, y }) => ('device' in of ? [[of.device, { x, y }]] : [])));
  const moved = new Map(
    layout.bays.flatMap(({ site, x, y }) => {
      const pin = sites.get(site);
      return pin ? [[site, { dx: pin.x - x, dy: pin.y - y }]] : [];
    }),
  );
  const bays = layout.bays.map((bay) => {
    const shift = moved.get(bay.site);
    return shift
      ? {
          ...bay,
          x: bay.x + shift.dx,
          y: bay.y + shift.dy,
          terraces: bay.terraces.map((terrace) => ({ ...terrace, y: terrace.y + shift.dy })),
        }
      : bay;
  });
  const plates = layout.plates.map((plate) => {
    const pin = devices.get(plate.id);
    if (pin) return { id: plate.id, ...pin };
    const shift = moved.get(siteOfDevice(plate.id) ?? '');
    return shift ? { id: plate.id, x: plate.x + shift.dx, y: plate.y + shift.dy } : plate;
  });
  return { ...layout, bays, plates };
}
