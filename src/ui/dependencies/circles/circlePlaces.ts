import type { Circle } from '@/core/dependency/circle';

export interface Place {
  /** the host, or the first of several that ask the same */
  id: string;
  name: string;
  /** how many hosts it stands for */
  count: number;
  x: number;
  y: number;
  isAsked: boolean;
}

export interface PlacedCircle {
  places: Place[];
  /** by place */
  lines: { from: number; to: number; count: number }[];
}

/** Fewer that ask the same are drawn one by one. */
const fewestTogether = 4;

/**
 * Those who are asked stand in the middle, most asked first, who asks around them; many that ask the same stand as one. The same circle is always drawn the same.
 */
export function placedCircle({ hosts, talks }: Circle, width: number, height: number): PlacedCircle {
  const asked = new Map<string, number>();
  const asks = new Map<string, Set<string>>();
  for (const { client, server } of talks) {
    asked.set(server, (asked.get(server) ?? 0) + 1);
    asks.set(client, (asks.get(client) ?? new Set()).add(server));
  }
  const inner = hosts.filter(({ id }) => asked.has(id)).sort((x, y) => (asked.get(y.id) ?? 0) - (asked.get(x.id) ?? 0));
  const alike = new Map<string, typeof hosts>();
  for (const host of hosts.filter(({ id }) => !asked.has(id))) {
    const key = [...(asks.get(host.id) ?? [])].sort().join(' ');
    alike.set(key, [...(alike.get(key) ?? []), host]);
  }
  const outer = [...alike.values()].flatMap((own) => (own.length < fewestTogether ? own.map((one) => [one]) : [own]));
  const around = (nth: number, of: number, share: number) => {
    const angle = (2 * Math.PI * nth) / Math.max(of, 1) - Math.PI / 2;
    return {
      x: width / 2 + Math.cos(angle) * share * (width / 2 - 75),
      y: height / 2 + Math.sin(angle) * share * (height / 2 - 22),
    };
  };
  const middle = { x: width / 2, y: height / 2 };
  const places: Place[] = [
    ...inner.map(({ id, name }, at) => ({
      id,
      name,
      count: 1,
      isAsked: true,
      ...(inner.length === 1 ? middle : around(at, inner.length, outer.length === 0 ? 1 : 0.45)),
    })),
    ...outer.map((own, at) => ({
      id: own[0]?.id ?? '',
      name: own.length === 1 ? (own[0]?.name ?? '') : `${own.length} hosts`,
      count: own.length,
      isAsked: false,
      ...around(at, outer.length, 1),
    })),
  ];
  const placeOf = new Map<string, number>();
  inner.forEach(({ id }, at) => placeOf.set(id, at));
  outer.forEach((own, at) => own.forEach(({ id }) => placeOf.set(id, inner.length + at)));
  const lines = new Map<string, PlacedCircle['lines'][number]>();
  for (const { client, server } of talks) {
    const [from, to] = [placeOf.get(client), placeOf.get(server)];
    if (from === undefined || to === undefined) continue;
    const known = lines.get(`${from} ${to}`);
    if (known) known.count++;
    else lines.set(`${from} ${to}`, { from, to, count: 1 });
  }
  return { places, lines: [...lines.values()] };
}
