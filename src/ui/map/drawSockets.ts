import { plateWidth } from '@/core/layout/bay';
import type { Palette } from './palette';
import type { Pen } from './pen';
import type { DrawnPlate, Picture, Point } from './picture';
import { joinedIn, lookOf, nearTab, socketBox, socketPlanOf, type PortsNear, type SocketLook } from './sockets';

/** From so many pixels on a socket has room for its number. */
const numberFrom = 17;
/** and from so many on for a mark of its own */
const markFrom = 4;

const between = (from: number, to: number, part: number): number => from + (to - from) * part;

/**
 * The name of a device: in the middle of its plate; from near above its sockets, where it stays as large on the screen however near one comes, with its model behind it.
 * @param told how many ports it tells of, where that is known
 */
export function nameOnPlate(
  pen: Pen,
  { device, mark, x, y }: DrawnPlate,
  colours: Palette,
  alpha: number,
  { scale, near, told }: { scale: number; near: number; told: number | undefined },
): void {
  const size = between(12.5, Math.min(7.6, 17 / scale), near);
  const name = mark === 'added' ? `+ ${device.name}` : device.name;
  pen.text(name, x + between(37, nearTab + 4.4, near), y + between(17, 9, near), {
    size,
    colour: colours.ink,
    alpha,
    widest: plateWidth - 56,
  });
  if (near < 0.6) return;
  const small = Math.min(5.4, 12 / scale);
  if (device.model && name.length * size * 0.56 + device.model.length * small * 0.56 < plateWidth - 62)
    pen.text(device.model, x + plateWidth - 20, y + 9, {
      size: small,
      colour: colours.ink2,
      align: 'right',
      alpha: alpha * near,
    });
  if (told === 0)
    pen.text(device.state === 'silent' ? 'it did not answer' : 'tells of no ports', x + nearTab + 4.4, y + 18, {
      size: small,
      colour: colours.ink3,
      alpha: alpha * near,
    });
}

interface Alike {
  look: SocketLook;
  joined: boolean;
  side: number;
  alpha: number;
  corners: Point[];
}

interface Near {
  scale: number;
  /** while it moves: no small print */
  quick: boolean;
  ports: PortsNear;
  chosen: { device: number; name: string } | null;
}

/** The sockets of devices that are near; all that look alike in one stroke. */
export function drawSockets(
  pen: Pen,
  picture: Picture,
  plates: readonly { plate: DrawnPlate; alpha: number }[],
  colours: Palette,
  { scale, quick, ports, chosen }: Near,
): void {
  const joinedTo = joinedIn(picture);
  const groups = new Map<string, Alike>();
  const numbers: { words: string; x: number; y: number; size: number; full: boolean; alpha: number }[] = [];
  let ring: { x: number; y: number; side: number } | null = null;
  for (const { plate, alpha } of plates) {
    const own = ports.get(plate.device.id);
    if (!own) continue;
    const plan = socketPlanOf(own);
    for (const { port, x, y } of plan.sockets) {
      const box = socketBox(plate, plan, { x, y });
      const joined = joinedTo(plate.device.id, port) !== undefined;
      const look = lookOf(port, joined, picture.rule);
      const key = `${look.tint} ${look.shape} ${joined} ${look.pale} ${box.side} ${alpha}`;
      const alike = groups.get(key);
      if (alike) alike.corners.push(box);
      else groups.set(key, { look, joined, side: box.side, alpha: look.pale ? alpha * 0.5 : alpha, corners: [box] });
      if (!quick && box.side * scale >= numberFrom)
        numbers.push({
          words: /\d+$/.exec(port.name)?.[0] ?? '',
          x: box.x + box.side / 2,
          y: box.y + box.side * 0.68,
          size: box.side * 0.54,
          full: look.shape === 'full',
          alpha,
        });
      if (chosen?.device === plate.device.id && chosen.name === port.name) ring = box;
    }
  }
  for (const alike of groups.values()) drawAlike(pen, alike, colours, scale, quick);
  for (const { words, x, y, size, full, alpha } of numbers)
    pen.text(words, x, y, { size, weight: 550, colour: full ? colours.panel : colours.ink2, align: 'center', alpha });
  if (ring)
    pen.box(ring.x - 0.7, ring.y - 0.7, ring.side + 1.4, ring.side + 1.4, 0.8, null, {
      colour: colours.ember,
      width: Math.max(0.9, 2 / scale),
    });
}

function drawAlike(
  pen: Pen,
  { look: { tint, shape }, joined, side, alpha, corners }: Alike,
  colours: Palette,
  scale: number,
  quick: boolean,
): void {
  const colour = colours[tint];
  const line = { colour, width: Math.min(side * 0.14, 1.4 / scale) };
  // one that leads to a device fills its place, others leave a gap around them: told apart without colour
  if (shape === 'full') pen.cells(corners, side, colour, joined ? { colour, width: side * 0.18 } : null, alpha);
  else pen.cells(corners, side, null, line, alpha);
  if (quick || side * scale < markFrom || shape === 'full' || shape === 'hollow') return;
  for (const { x, y } of corners) {
    if (shape === 'wedge') pen.wedge(x + side * 0.1, y + side * 0.1, side * 0.8, colour, alpha);
    else if (shape === 'bar')
      pen.box(x + side * 0.15, y + side * 0.72, side * 0.7, side * 0.14, 0, colour, null, alpha);
    else pen.box(x + side * 0.4, y + side * 0.75, side * 0.2, side * 0.2, side * 0.1, colour, null, alpha);
  }
}
