import { isInside, labelPoint, type Point } from '@/core/floor/floorPlan';

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

const letter = 6.6;
const half = 8;

const meets = (x: Box, y: Box): boolean => x.left < y.right && y.left < x.right && x.top < y.bottom && y.top < x.bottom;
const boxOf = ([x, y]: Point, name: string): Box => ({
  left: x - (name.length * letter) / 2,
  right: x + (name.length * letter) / 2,
  top: y - half,
  bottom: y + half,
});

/**
 * Where the name of a room stands on the screen: in its middle, or where it hides nothing, above or below that; the middle again where there is no such place.
 * @param corners on the screen, in its points
 * @param taken what stands there
 */
export function roomNameAt(name: string, corners: readonly Point[], taken: readonly Box[]): Point {
  const middle = labelPoint(corners);
  const [top, bottom] = [Math.min(...corners.map(([, y]) => y)), Math.max(...corners.map(([, y]) => y))];
  const spots: Point[] = [middle, [middle[0], top + half + 4], [middle[0], bottom - half - 4]];
  const free = spots.find((spot) => {
    const box = boxOf(spot, name);
    return isInside(spot, corners) && !taken.some((other) => meets(box, other));
  });
  return free ?? middle;
}
