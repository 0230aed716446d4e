import type { ThingName } from '@/core/things/things';
import type { ThingKind } from '@/core/dependency/graph';

const tables: Partial<Record<ThingKind, ThingName>> = { device: 'devices', endpoint: 'endpoints', machine: 'machines' };

/** What the address selects, as a dossier knows it; null for none. */
export function selectedThing(sel: string | null): { thing: ThingName; id: string } | null {
  const [, kind = '', id = ''] = /^([a-z]+):(.+)$/s.exec(sel ?? '') ?? [];
  const thing = tables[kind as ThingKind];
  return thing ? { thing, id } : null;
}

/** Whether a thing has a dossier of its own. */
export const hasDossier = (kind: ThingKind): boolean => kind in tables;
