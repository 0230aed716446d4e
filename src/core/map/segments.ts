import type { MapLink } from './mapData';

/** Something that nobody asked, with the ports that lead to it. */
export interface Segment {
  id: string;
  ports: { device: number; port: string }[];
  /** links that lead through it */
  links: string[];
}

/** Links through something that nobody asked are told in pairs; whatever shares a port shares what lies behind it. In the order of their ports. */
export function segmentsOf(links: readonly MapLink[]): Segment[] {
  const top = new Map<string, string>();
  const topOf = (key: string): string => {
    let at = key;
    for (let above = top.get(at); above !== undefined && above !== at; above = top.get(at)) at = above;
    return at;
  };
  const through = links.filter(({ segment }) => segment);
  const keyOf = ({ device, port }: MapLink['a']) => `${device}:${port}`;
  for (const { a, b } of through) {
    const [one, other] = [topOf(keyOf(a)), topOf(keyOf(b))].sort();
    if (one === undefined || other === undefined) continue;
    top.set(one, one);
    top.set(other, one);
  }
  const found = new Map<string, { ports: Map<string, MapLink['a']>; links: string[] }>();
  for (const { id, a, b } of through) {
    const key = topOf(keyOf(a));
    const segment = found.get(key) ?? { ports: new Map<string, MapLink['a']>(), links: [] };
    for (const end of [a, b]) segment.ports.set(keyOf(end), end);
    segment.links.push(id);
    found.set(key, segment);
  }
  return [...found]
    .sort(([x], [y]) => (x < y ? -1 : 1))
    .map(([id, segment]) => ({
      id,
      ports: [...segment.ports.values()].sort((x, y) => x.device - y.device || (x.port < y.port ? -1 : 1)),
      links: segment.links,
    }));
}
