/** What a module is called without its number: `DIMM 5` is a `DIMM`. */
const stemOf = (name: string): string =>
  name
    .replace(/[\s\-/#]*[0-9A-Z]?\d*$/, '')
    .trim()
    .toLowerCase();

interface Part {
  path: string;
  name: string;
  class: string;
  parent: string | null;
  empty: boolean;
}

/**
 * What empty slots are for, by what their neighbours of the same name hold: beside `Supply bay 1` with a supply, `Supply bay 2` is for a supply. Where there is none of the same name,
 * one that begins it tells: beside `Supply 1` too. A slot that has no such neighbour tells nothing.
 * @param modules of one device
 * @returns class by path of the empty slot
 */
export function slotKinds(modules: Part[]): Map<string, string> {
  const contents = new Map<string, string>();
  for (const part of modules)
    if (part.parent !== null && part.class !== 'container')
      contents.set(part.parent, contents.get(part.parent) ?? part.class);
  const counts = new Map<string, Map<string, number>>();
  for (const part of modules) {
    if (part.empty) continue;
    const held = part.class === 'container' ? contents.get(part.path) : part.class;
    if (held === undefined) continue;
    const key = `${part.parent ?? ''}\n${stemOf(part.name)}`;
    const known = counts.get(key) ?? new Map<string, number>();
    counts.set(key, known.set(held, (known.get(held) ?? 0) + 1));
  }
  const kinds = new Map<string, string>();
  for (const part of modules) {
    if (!part.empty) continue;
    const words = stemOf(part.name).split(' ');
    for (let length = words.length; length > 0; length--) {
      const seen = [...(counts.get(`${part.parent ?? ''}\n${words.slice(0, length).join(' ')}`) ?? [])].sort(
        ([, x], [, y]) => y - x,
      )[0];
      if (!seen) continue;
      kinds.set(part.path, seen[0]);
      break;
    }
  }
  return kinds;
}
