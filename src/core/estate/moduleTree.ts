import type { PhysicalRow } from '../mib/entity';
import { compareNaturally } from '../values/naturalOrder';
import type { ModuleClass, ModuleFacts } from './facts';

/**
 * The containment tree of ENTITY (RFC 6933) as rows with paths, parents before children. A container that
 * holds nothing is an empty slot. Cycles and parents that do not exist are cut: such rows become roots.
 */
export function moduleTree(rows: PhysicalRow[]): { modules: ModuleFacts[]; pathByIndex: Map<number, string> } {
  const byIndex = new Map(rows.map((row) => [row.entPhysicalIndex, row]));
  const children = new Map<number, PhysicalRow[]>();
  for (const row of rows) {
    const parent = byIndex.has(row.containedIn) && !isOwnAncestor(row, byIndex) ? row.containedIn : 0;
    children.set(parent, [...(children.get(parent) ?? []), row]);
  }
  const tree: ModuleFacts[] = [];
  const pathByIndex = new Map<number, string>();
  const visit = (row: PhysicalRow, parent: string | null, taken: Set<string>) => {
    // a path is read by its slashes
    const called = (row.name || row.description || `${row.class} ${row.entPhysicalIndex}`).replaceAll(' / ', '/');
    const own = unique(called, taken);
    const path = parent === null ? own : `${parent} / ${own}`;
    const below = sorted(children.get(row.entPhysicalIndex) ?? []);
    pathByIndex.set(row.entPhysicalIndex, path);
    tree.push({
      path,
      class: moduleClass(row),
      name: row.name || row.description,
      description: row.description,
      vendor: row.vendor,
      model: row.model,
      serial: row.serial,
      ...(row.assetId && { assetId: row.assetId }),
      ...(row.alias && { alias: row.alias }),
      ...(row.madeOn && { madeOn: row.madeOn }),
      ...(row.uuid && { uuid: row.uuid }),
      hardwareRevision: row.hardwareRevision,
      firmwareRevision: row.firmwareRevision,
      softwareRevision: row.softwareRevision,
      replaceable: row.replaceable,
      position: row.position,
      parent,
      empty: row.class === 'container' && below.length === 0,
      order: tree.length,
    });
    const names = new Set<string>();
    for (const child of below) visit(child, path, names);
  };
  const names = new Set<string>();
  for (const root of sorted(children.get(0) ?? [])) visit(root, null, names);
  return { modules: tree, pathByIndex };
}

function sorted(rows: PhysicalRow[]): PhysicalRow[] {
  return [...rows].sort(
    (a, b) => a.position - b.position || compareNaturally(a.name, b.name) || a.entPhysicalIndex - b.entPhysicalIndex,
  );
}

function unique(name: string, taken: Set<string>): string {
  let candidate = name;
  for (let count = 2; taken.has(candidate); count++) candidate = `${name} (${count})`;
  taken.add(candidate);
  return candidate;
}

function isOwnAncestor(row: PhysicalRow, byIndex: Map<number, PhysicalRow>): boolean {
  const seen = new Set<number>([row.entPhysicalIndex]);
  for (let at = byIndex.get(row.containedIn); at; at = byIndex.get(at.containedIn)) {
    if (at.entPhysicalIndex === row.entPhysicalIndex) return true;
    if (seen.has(at.entPhysicalIndex)) return false;
    seen.add(at.entPhysicalIndex);
  }
  return false;
}

/** ENTITY has no class for transceivers, memory and drives: they are modules or ports whose text says so. */
export function moduleClass(row: PhysicalRow): ModuleClass {
  const text = `${row.name} ${row.description}`.toLowerCase();
  if (row.class === 'module' || row.class === 'other' || row.class === 'port') {
    if (/transceiver|\bq?sfp\b.*(module|optic)|optic/.test(text)) return 'transceiver';
    if (/\b(dimm|memory)\b/.test(text)) return 'memory';
    if (/\b(drive|disk|ssd|hdd)\b/.test(text)) return 'drive';
  }
  return row.class === 'storageDrive' ? 'drive' : row.class;
}
