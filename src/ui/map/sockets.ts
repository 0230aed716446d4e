import { plateHeight, plateWidth } from '@/core/layout/bay';
import { planSockets, type SocketPlan } from '@/core/layout/socketPlan';
import type { DevicePorts, MapPort } from '@/core/map/mapPorts';
import type { OverlayRule, Tint } from '@/core/map/overlay';
import { portGlyph } from '../components/Glyph';
import type { DrawnLink, DrawnPlate, Picture } from './picture';

/** Ports of the devices that are near enough for them, by the number of the device. */
export type PortsNear = ReadonlyMap<number, DevicePorts>;

/** How wide the tab of a plate is from near. */
export const nearTab = 17;
/** On a plate, right of its tab, below its name. */
const room = { left: nearTab + 4, top: 11.6, width: plateWidth - nearTab - 4 - 6, height: plateHeight - 11.6 - 2 };
const largest = 7;
/** of a socket and what is around it */
const socketPart = 0.84;

const plans = new WeakMap<DevicePorts, SocketPlan<MapPort>>();

/** How the sockets of a device stand on its plate; worked out once. */
export function socketPlanOf(ports: DevicePorts): SocketPlan<MapPort> {
  let plan = plans.get(ports);
  if (!plan) plans.set(ports, (plan = planSockets(ports.ports, ports.plan, room, largest)));
  return plan;
}

/** Upper left corner and side of a socket on the plane. */
export function socketBox(
  plate: Pick<DrawnPlate, 'x' | 'y'>,
  { size }: Pick<SocketPlan<MapPort>, 'size'>,
  { x, y }: { x: number; y: number },
): { x: number; y: number; side: number } {
  const side = size * socketPart;
  return { x: plate.x + room.left + x + (size - side) / 2, y: plate.y + room.top + y + (size - side) / 2, side };
}

/** The socket at a place of the plane. */
export function socketAt(plate: DrawnPlate, ports: DevicePorts, x: number, y: number): MapPort | null {
  const plan = socketPlanOf(ports);
  const [inX, inY] = [x - plate.x - room.left, y - plate.y - room.top];
  return (
    plan.sockets.find(
      (socket) => inX >= socket.x && inX < socket.x + plan.size && inY >= socket.y && inY < socket.y + plan.size,
    )?.port ?? null
  );
}

/** How a socket looks: full, hollow with a line around it, or with a mark in it. */
export interface SocketLook {
  tint: Tint;
  shape: 'full' | 'hollow' | 'bar' | 'wedge' | 'dot';
  pale: boolean;
  /** for the legend */
  words: string;
}

const byState: Record<string, SocketLook> = {
  up: { tint: 'good', shape: 'full', pale: false, words: 'port that is up' },
  joined: { tint: 'lagoon', shape: 'full', pale: false, words: 'port with a link' },
  down: { tint: 'ink3', shape: 'hollow', pale: false, words: 'port that is down' },
  off: { tint: 'ink3', shape: 'bar', pale: false, words: 'switched off' },
  fault: { tint: 'bad', shape: 'wedge', pale: false, words: 'something is wrong' },
  unknown: { tint: 'ink3', shape: 'dot', pale: false, words: 'state not told' },
};
const unknownLook = byState.unknown as SocketLook;

/** How a port is shown under a colouring. @param joined whether a link of the map ends there */
export function lookOf(port: MapPort, joined: boolean, rule: OverlayRule): SocketLook {
  const glyph = portGlyph({ ...port });
  const look = byState[glyph === 'up' && joined ? 'joined' : glyph] ?? unknownLook;
  if (!rule.port) return look;
  const shown = rule.port(port);
  return shown.pale
    ? { tint: 'ink3', shape: look.shape === 'full' ? 'hollow' : look.shape, pale: true, words: '' }
    : { tint: shown.tint, shape: look.shape, pale: false, words: shown.words };
}

type Joined = (device: number, port: { name: string; lag?: string | null }) => DrawnLink | undefined;
const ends = new WeakMap<Picture, Joined>();

/** The link of a picture that ends at a port, or at the aggregate that it belongs to. */
export function joinedIn(picture: Picture): Joined {
  let joined = ends.get(picture);
  if (joined) return joined;
  const byEnd = new Map<string, DrawnLink>();
  for (const drawn of picture.links)
    for (const { device, port } of [drawn.link.a, drawn.link.b]) byEnd.set(`${device} ${port}`, drawn);
  joined = (device, { name, lag }) =>
    byEnd.get(`${device} ${name}`) ?? (lag ? byEnd.get(`${device} ${lag}`) : undefined);
  ends.set(picture, joined);
  return joined;
}

/** `port:12:A1` as its parts. */
export function portOfSel(sel: string | null): { device: number; name: string } | null {
  const [, device, name] = /^port:(\d+):(.*)$/.exec(sel ?? '') ?? [];
  return device === undefined || name === undefined ? null : { device: Number(device), name };
}
