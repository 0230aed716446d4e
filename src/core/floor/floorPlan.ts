/** A place on a plan: parts of its width and height, from 0 at the left and top to 1. */
export type Point = readonly [x: number, y: number];

export interface Room {
  name: string;
  /** corners in order, three at least */
  corners: Point[];
}

/** What stands on a plan: a device by its number, or an outlet by its own. */
export interface PlanMark {
  kind: 'device' | 'outlet';
  id: number;
  at: Point;
}

/** What people drew on the picture of a floor. */
export interface PlanLayout {
  rooms: Room[];
  marks: PlanMark[];
}

export const emptyLayout: PlanLayout = { rooms: [], marks: [] };
export const mostRooms = 500;
export const mostMarks = 5000;
const longestName = 120;

/** Twice the area within the corners, positive where they go round with the hands of a clock (y grows downwards). Shoelace formula. */
const doubleArea = (corners: readonly Point[]): number =>
  corners.reduce((sum, [x, y], at) => {
    const [nextX, nextY] = corners[(at + 1) % corners.length] ?? [x, y];
    return sum + x * nextY - nextX * y;
  }, 0);

/** Whether a point lies within a room; on its edge counts as inside for one of two rooms that share it. Even–odd rule. */
export function isInside([x, y]: Point, corners: readonly Point[]): boolean {
  let inside = false;
  for (let at = 0, before = corners.length - 1; at < corners.length; before = at++) {
    const [x1, y1] = corners[at] ?? [0, 0];
    const [x2, y2] = corners[before] ?? [0, 0];
    if (y1 > y !== y2 > y && x < ((x2 - x1) * (y - y1)) / (y2 - y1) + x1) inside = !inside;
  }
  return inside;
}

/** The room a point lies in, the smallest of several; null where it lies in none. */
export function roomAt(point: Point, rooms: readonly Room[]): Room | null {
  const around = rooms.filter(({ corners }) => isInside(point, corners));
  return around.sort((x, y) => Math.abs(doubleArea(x.corners)) - Math.abs(doubleArea(y.corners)))[0] ?? null;
}

/** Where the name of a room stands: its centre of area if that lies within it, else the middle of its longest stretch at the height of the centre. */
export function labelPoint(corners: readonly Point[]): Point {
  const area = doubleArea(corners);
  if (area === 0) return corners[0] ?? [0, 0];
  let [x, y] = [0, 0];
  corners.forEach(([x1, y1], at) => {
    const [x2, y2] = corners[(at + 1) % corners.length] ?? [x1, y1];
    const weight = x1 * y2 - x2 * y1;
    x += (x1 + x2) * weight;
    y += (y1 + y2) * weight;
  });
  const centre: Point = [x / (3 * area), y / (3 * area)];
  if (isInside(centre, corners)) return centre;
  const crossings = corners
    .flatMap(([x1, y1], at) => {
      const [x2, y2] = corners[(at + 1) % corners.length] ?? [x1, y1];
      return y1 > centre[1] !== y2 > centre[1] ? [((x2 - x1) * (centre[1] - y1)) / (y2 - y1) + x1] : [];
    })
    .sort((one, other) => one - other);
  let best: Point = centre;
  let widest = -1;
  for (let at = 0; at + 1 < crossings.length; at += 2) {
    const [from = 0, to = 0] = crossings.slice(at, at + 2);
    if (to - from > widest) [best, widest] = [[(from + to) / 2, centre[1]], to - from];
  }
  return best;
}

const onPlan = ([x, y]: Point): boolean =>
  Number.isFinite(x) && Number.isFinite(y) && x >= 0 && x <= 1 && y >= 0 && y <= 1;

/** What keeps a layout from being as it is drawn, each at its place: `rooms[2].name`. */
export function layoutMistakes({ rooms, marks }: PlanLayout): { path: string; message: string }[] {
  const mistakes: { path: string; message: string }[] = [];
  const add = (path: string, message: string) => mistakes.push({ path, message });
  if (rooms.length > mostRooms) add('rooms', `${rooms.length} rooms; ${mostRooms} at most`);
  if (marks.length > mostMarks) add('marks', `${marks.length} marks; ${mostMarks} at most`);
  const names = new Set<string>();
  rooms.slice(0, mostRooms).forEach(({ name, corners }, at) => {
    const key = name.trim().toLowerCase();
    if (key === '') add(`rooms[${at}].name`, 'A room needs a name');
    else if (names.has(key)) add(`rooms[${at}].name`, `There is a room “${name.trim()}” already`);
    if (name.length > longestName) add(`rooms[${at}].name`, `has ${name.length} characters; ${longestName} at most`);
    names.add(key);
    if (corners.length < 3) add(`rooms[${at}].corners`, 'A room has three corners at least');
    else if (!corners.every(onPlan)) add(`rooms[${at}].corners`, 'A corner lies outside the plan');
    else if (Math.abs(doubleArea(corners)) < 1e-6) add(`rooms[${at}].corners`, 'The corners enclose nothing');
  });
  const placed = new Set<string>();
  marks.slice(0, mostMarks).forEach(({ kind, id, at: point }, at) => {
    if (!onPlan(point)) add(`marks[${at}].at`, 'lies outside the plan');
    if (placed.has(`${kind} ${id}`)) add(`marks[${at}]`, `${kind} ${id} stands on the plan twice`);
    placed.add(`${kind} ${id}`);
  });
  return mistakes;
}
