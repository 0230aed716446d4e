import { workState } from '../../core/works/work';
import type { Store } from '../../store/base/database';
import { openWorks } from '../../store/works';

/** A planned work or an incident on a device, in words: “planned work, now: New supplies”. */
export type WorkWords = string;

/** What is planned or under way on devices themselves, by their numbers; a work names them by number, or by a name that one of them has alone. */
export function worksByDevice(
  store: Store,
  devices: Iterable<{ id: number; name: string }>,
  at = new Date().toISOString(),
): Map<number, WorkWords[]> {
  const found = new Map<number, WorkWords[]>();
  const works = openWorks(store.db, at);
  if (works.length === 0) return found;
  const byName = new Map<string, number | null>();
  const ids = new Set<number>();
  for (const { id, name } of devices) {
    ids.add(id);
    const key = name.toLowerCase();
    // a name that two have is nobody's
    byName.set(key, byName.has(key) ? null : id);
  }
  const now = Date.parse(at);
  for (const work of works) {
    const on = new Set(
      work.things.flatMap((thing) => {
        const [, number] = /^device:(\d+)$/.exec(thing) ?? [];
        const id = number === undefined ? byName.get(thing.trim().toLowerCase()) : Number(number);
        return typeof id === 'number' && ids.has(id) ? [id] : [];
      }),
    );
    for (const id of on) {
      const words = `${work.kind}, ${workState(work, now)}: ${work.title}`;
      found.set(id, [...(found.get(id) ?? []), words]);
    }
  }
  return found;
}
