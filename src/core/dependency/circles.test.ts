import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Circle, TalkingHost } from './circle';
import { circlesOf as circlesByTalk, type AskedPort } from './circles';
import { groupsByTalk, modularity } from './louvain';

const host = (id: string): TalkingHost => ({ id, name: `host-${id}`, site: '' });
interface Asks extends Omit<AskedPort, 'host'> {
  client: string;
  server: string;
}
const talk = (client: string, server: string, more: Partial<Asks> = {}): Asks => ({
  client,
  server,
  protocol: 'tcp',
  port: 443,
  service: '',
  kind: '',
  ...more,
});

/** Circles of talk that is told one by one. */
function circlesOf(hosts: TalkingHost[], talks: Asks[], before: Circle[] = []) {
  const place = (id: string) => hosts.findIndex((one) => one.id === id);
  const ports: AskedPort[] = [];
  const rows = talks.map(({ client, server, ...own }) => {
    const key = JSON.stringify({ host: place(server), ...own });
    let port = ports.findIndex(({ host: at, ...one }) => JSON.stringify({ host: at, ...one }) === key);
    if (port < 0) port = ports.push({ host: place(server), ...own }) - 1;
    return { client: place(client), port };
  });
  return circlesByTalk(
    hosts,
    ports,
    {
      client: Uint32Array.from(rows, ({ client }) => client),
      port: Uint32Array.from(rows, ({ port }) => port),
      events: rows.map(() => 1),
      bytes: rows.map(() => 0),
    },
    before,
  );
}

/** Clusters of hosts that all talk to each other, and a little from one to the next. */
function clusters(count: number, size: number) {
  const hosts: TalkingHost[] = [];
  const talks: Asks[] = [];
  for (let cluster = 0; cluster < count; cluster++)
    for (let nth = 0; nth < size; nth++) {
      hosts.push(host(`${cluster}-${nth}`));
      for (let other = 0; other < nth; other++) talks.push(talk(`${cluster}-${nth}`, `${cluster}-${other}`));
      if (nth === 0 && cluster > 0) talks.push(talk(`${cluster}-0`, `${cluster - 1}-0`));
    }
  return { hosts, talks };
}

const idsOf = ({ hosts }: { hosts: TalkingHost[] }) => hosts.map(({ id }) => id).sort();

test('hosts that talk among themselves are a circle; what nearly all ask is set apart, and so is what is for everybody', () => {
  const { hosts, talks } = clusters(4, 5);
  const all = [...hosts, host('names'), host('time')];
  const { circles, shared } = circlesOf(all, [
    ...talks,
    ...hosts.map(({ id }) => talk(id, 'names', { protocol: 'udp', port: 9999 })),
    ...hosts
      .slice(0, 3)
      .map(({ id }) => talk(id, 'time', { protocol: 'udp', port: 123, service: 'Time', kind: 'time' })),
  ]);
  expect(circles.map(idsOf).sort()).toEqual(
    [0, 1, 2, 3].map((cluster) => [0, 1, 2, 3, 4].map((nth) => `${cluster}-${nth}`)).sort(),
  );
  expect(shared.map(({ host: { id }, service, clients }) => [id, service, clients])).toEqual([
    ['names', 'udp/9999', 20],
    ['time', 'Time', 3],
  ]);
});

test('circles keep their ids from survey to survey, though hosts come, go and are told in another order', () => {
  const { hosts, talks } = clusters(3, 6);
  const first = circlesOf(hosts, talks).circles;
  const left = hosts.filter(({ id }) => id !== '1-5');
  const second = circlesOf(
    [...left, host('0-6')].reverse(),
    [
      ...talks.filter(({ client, server }) => client !== '1-5' && server !== '1-5'),
      talk('0-6', '0-0'),
      talk('0-6', '0-1'),
    ].reverse(),
    first,
  ).circles;
  const byId = new Map(second.map((circle) => [circle.id, idsOf(circle)]));
  for (const circle of first)
    expect(byId.get(circle.id)?.filter((id) => !circle.hosts.some((own) => own.id === id) && id !== '0-6')).toEqual([]);
  expect(new Set(second.map(({ id }) => id)).size).toBe(3);
});

test('no two groups have a larger modularity as one, and all apart have none larger', () => {
  const anyPairs = fc.integer({ min: 2, max: 12 }).chain((size) =>
    fc.record({
      size: fc.constant(size),
      pairs: fc.array(
        fc.record({
          a: fc.nat({ max: size - 1 }),
          b: fc.nat({ max: size - 1 }),
          weight: fc.integer({ min: 1, max: 5 }),
        }),
        { maxLength: 30 },
      ),
    }),
  );
  fc.assert(
    fc.property(anyPairs, ({ size, pairs }) => {
      const of = {
        size,
        a: pairs.map(({ a }) => a),
        b: pairs.map(({ b }) => b),
        weight: pairs.map(({ weight }) => weight),
      };
      const groups = groupsByTalk(of);
      const reached = modularity(of, groups);
      // whole groups are moved last: two of them are never better as one
      for (const one of new Set(groups))
        for (const other of new Set(groups)) {
          if (one >= other) continue;
          const joined = groups.map((group) => (group === other ? one : group));
          expect(modularity(of, joined)).toBeLessThanOrEqual(reached + 1e-7);
        }
      expect(reached).toBeGreaterThanOrEqual(
        modularity(
          of,
          Int32Array.from({ length: size }, (_, at) => at),
        ) - 1e-9,
      );
    }),
  );
});
