/** A module as the picture of a chassis needs it. */
export interface BayPart {
  id: string;
  path: string;
  name: string;
  class: string;
  parent: string | null;
  position: number;
  empty: boolean;
  /** what an empty slot is for, where that is known */
  holds: string;
}

/** A place in a chassis, with what is in it. */
export interface Bay<Part extends BayPart> {
  /** what stands on it: `3`, `U1` */
  label: string;
  /** the slot or the part itself, in words */
  name: string;
  /** what is in it; of an empty one the slot */
  part: Part;
  empty: boolean;
}

/** Bays of one kind beside each other. */
export interface BayRow<Part extends BayPart> {
  kind: 'module' | 'powerSupply' | 'fan' | 'cpu' | 'memory' | 'drive' | 'transceiver' | 'other';
  /** the card they are on; null for the chassis itself */
  on: string | null;
  bays: Bay<Part>[];
}

export interface ChassisPlan<Part extends BayPart> {
  path: string;
  name: string;
  rows: BayRow<Part>[];
}

const kinds = ['module', 'powerSupply', 'fan', 'cpu', 'memory', 'drive', 'transceiver', 'other'] as const;
const isKind = (text: string): text is BayRow<BayPart>['kind'] =>
  text !== 'other' && (kinds as readonly string[]).includes(text);

/** Of an empty place nobody may know what it is for: slots are for cards. */
const kindOfEmpty = ({ name, holds }: BayPart): BayRow<BayPart>['kind'] =>
  isKind(holds) ? holds : /slot/i.test(name) ? 'module' : 'other';

/** The number or short mark at the end of a name: `Supply bay 2` has `2`, `Cage U1` has `U1`; a short name is its own mark. */
const labelOf = (name: string): string =>
  /(?:^|[\s#-])([A-Z]{0,2}\d+(?:[/.]\d+)*|[A-Z])$/.exec(name)?.[1] ?? (name.length <= longestMark ? name : '');
const longestMark = 10;

/**
 * Where the modules of a device sit: for each chassis, cards, supplies, fans, processors, memory, drives and cages, empty places too, in the order of their positions
 * (ENTITY-MIB entPhysicalParentRelPos). What tells no place and holds nothing replaceable, like a sensor, is in no bay.
 * @param modules of one device, parents before children
 */
export function chassisPlans<Part extends BayPart>(modules: Part[]): ChassisPlan<Part>[] {
  const byPath = new Map(modules.map((part) => [part.path, part]));
  const chassis = modules.filter((part) => part.class === 'chassis');
  const plans = new Map(
    chassis.map((part) => [part.path, { path: part.path, name: part.name, rows: [] as BayRow<Part>[] }]),
  );
  for (const part of modules) {
    const kind = part.empty ? kindOfEmpty(part) : part.class;
    if (!part.empty && !isKind(kind)) continue;
    const holder = part.parent === null ? undefined : byPath.get(part.parent);
    const slot = !part.empty && holder?.class === 'container' ? holder : part;
    let plan: ChassisPlan<Part> | undefined;
    let on: string | null = null;
    for (let above = slot.parent; above !== null && !plan; above = byPath.get(above)?.parent ?? null) {
      plan = plans.get(above);
      if (on === null && byPath.get(above)?.class === 'module') on = above;
    }
    if (!plan) continue;
    const shown = kind as BayRow<Part>['kind'];
    let row = plan.rows.find((one) => one.kind === shown && one.on === on);
    if (!row) plan.rows.push((row = { kind: shown, on, bays: [] }));
    row.bays.push({ label: labelOf(slot.name), name: slot.name, part, empty: part.empty });
  }
  const placeOf = (bay: Bay<Part>) =>
    (bay.empty
      ? bay.part
      : byPath.get(bay.part.parent ?? '')?.class === 'container'
        ? byPath.get(bay.part.parent ?? '')
        : bay.part
    )?.position ?? 0;
  for (const { rows } of plans.values()) {
    for (const { bays } of rows) bays.sort((x, y) => placeOf(x) - placeOf(y));
    rows.sort((x, y) => Number(x.on !== null) - Number(y.on !== null) || kinds.indexOf(x.kind) - kinds.indexOf(y.kind));
  }
  return [...plans.values()].filter(({ rows }) => rows.length > 0);
}
