import { addressOctets } from './addressOctets';

/** What was said between two, as it was. */
export interface SaidTalk {
  client: string;
  server: string;
  port: number;
  protocol: number;
  packets: { toServer: number; toClient: number };
  octets: { toServer: number; toClient: number };
}

/** What exporters send of talk, written octet by octet, with nothing of the reader. */
export type FlowVersion = 5 | 9 | 10;

export interface OneWay {
  from: string;
  to: string;
  ports: [number, number];
  protocol: number;
  packets: number;
  octets: number;
  /** seconds since the epoch, to the millisecond */
  first: number;
  last: number;
}

/** Both directions of what was said, as an exporter counts it. @param clientPort of each conversation */
export const bothWays = (truth: readonly SaidTalk[], at: number, clientPort: (nth: number) => number): OneWay[] =>
  truth.flatMap(({ client, server, port, protocol, packets, octets }, nth) => {
    const ask = { from: client, to: server, ports: [clientPort(nth), port] as [number, number] };
    const answer = { from: server, to: client, ports: [port, clientPort(nth)] as [number, number] };
    const times = { protocol, first: at + nth, last: at + nth + 1 };
    return [
      { ...ask, ...times, packets: packets.toServer, octets: octets.toServer },
      { ...answer, ...times, packets: packets.toClient, octets: octets.toClient },
    ].filter((one) => one.packets > 0);
  });

const number = (size: number, value: number): Buffer => {
  const octets = Buffer.alloc(size);
  for (let at = size - 1, rest = Math.round(value); at >= 0; at--, rest = Math.floor(rest / 256))
    octets[at] = rest % 256;
  return octets;
};
const startedAgo = 100_000;

/** A datagram of version 5. @param sampling one of so many packets was counted */
export function version5(flows: readonly OneWay[], now: number, sequence: number, sampling = 0): Buffer {
  const upFor = (moment: number) => (moment - (now - startedAgo)) * 1000;
  return Buffer.concat([
    number(2, 5),
    number(2, flows.length),
    number(4, startedAgo * 1000),
    number(4, Math.floor(now)),
    number(4, (now % 1) * 1e9),
    number(4, sequence),
    number(2, 0x0101),
    number(2, sampling ? 0x4000 | sampling : 0),
    ...flows.map(({ from, to, ports, protocol, packets, octets, first, last }) =>
      Buffer.concat([
        addressOctets(from),
        addressOctets(to),
        Buffer.alloc(8),
        number(4, packets),
        number(4, octets),
        number(4, upFor(first)),
        number(4, upFor(last)),
        number(2, ports[0]),
        number(2, ports[1]),
        Buffer.from([0, 0x1b, protocol, 0]),
        Buffer.alloc(8),
      ]),
    ),
  ]);
}

const set = (id: number, ...parts: Buffer[]): Buffer => {
  const body = Buffer.concat(parts);
  const padding = Buffer.alloc((4 - (body.length % 4)) % 4);
  return Buffer.concat([number(2, id), number(2, 4 + body.length + padding.length), body, padding]);
};
const template = (id: number, fields: [number, number][]): Buffer =>
  Buffer.concat([
    number(2, id),
    number(2, fields.length),
    ...fields.flatMap(([what, size]) => [number(2, what), number(2, size)]),
  ]);

const fields9: [number, number][] = [
  [8, 4],
  [12, 4],
  [7, 2],
  [11, 2],
  [4, 1],
  [2, 4],
  [1, 8],
  [22, 4],
  [21, 4],
];
export const templateOf9 = (id: number): Buffer => set(0, template(id, fields9));
export const dataOf9 = (id: number, flows: readonly OneWay[], now: number): Buffer =>
  set(
    id,
    ...flows.map(({ from, to, ports, protocol, packets, octets, first, last }) =>
      Buffer.concat([
        addressOctets(from),
        addressOctets(to),
        number(2, ports[0]),
        number(2, ports[1]),
        number(1, protocol),
        number(4, packets),
        number(8, octets),
        number(4, (first - (now - startedAgo)) * 1000),
        number(4, (last - (now - startedAgo)) * 1000),
      ]),
    ),
  );
/** Options of version 9 that tell the sampling of its interface. */
export const samplingOf9 = (id: number, sampling: number): Buffer =>
  Buffer.concat([
    set(
      1,
      Buffer.concat([
        number(2, id),
        number(2, 4),
        number(2, 4),
        number(2, 2),
        number(2, 2),
        number(2, 34),
        number(2, 4),
      ]),
    ),
    set(id, Buffer.concat([number(2, 1), number(4, sampling)])),
  ]);
export const version9 = (sets: readonly Buffer[], now: number, sequence: number, source = 7): Buffer =>
  Buffer.concat([
    number(2, 9),
    number(2, sets.length),
    number(4, startedAgo * 1000),
    number(4, Math.floor(now)),
    number(4, sequence),
    number(4, source),
    ...sets,
  ]);

/** With a field of an enterprise, one of variable length, and both families of addresses. */
export const templateOfIpfix = (id: number): Buffer => {
  const six: [number, number][] = [
    [8, 4],
    [12, 4],
    [27, 16],
    [28, 16],
    [7, 2],
    [11, 2],
    [4, 1],
    [2, 4],
    [1, 4],
    [152, 8],
    [153, 8],
  ];
  return set(
    2,
    Buffer.concat([
      number(2, id),
      number(2, six.length + 2),
      number(2, 0x8000 | 12),
      number(2, 2),
      number(4, 59_101),
      number(2, 82),
      number(2, 0xffff),
      ...six.flatMap(([what, size]) => [number(2, what), number(2, size)]),
    ]),
  );
};
export const dataOfIpfix = (id: number, flows: readonly OneWay[]): Buffer =>
  set(
    id,
    ...flows.map(({ from, to, ports, protocol, packets, octets, first, last }, nth) => {
      const isSix = from.includes(':');
      const name = Buffer.from(`port ${nth}`);
      return Buffer.concat([
        number(2, nth),
        // in one octet, or in three
        nth % 2 ? number(1, name.length) : Buffer.concat([Buffer.from([255]), number(2, name.length)]),
        name,
        isSix ? Buffer.alloc(8) : Buffer.concat([addressOctets(from), addressOctets(to)]),
        isSix ? Buffer.concat([addressOctets(from), addressOctets(to)]) : Buffer.alloc(32),
        number(2, ports[0]),
        number(2, ports[1]),
        number(1, protocol),
        number(4, packets),
        number(4, octets),
        number(8, first * 1000),
        number(8, last * 1000),
      ]);
    }),
  );
export function ipfix(sets: readonly Buffer[], now: number, sequence: number, domain = 3): Buffer {
  const body = Buffer.concat(sets);
  return Buffer.concat([
    number(2, 10),
    number(2, 16 + body.length),
    number(4, Math.floor(now)),
    number(4, sequence),
    number(4, domain),
    body,
  ]);
}
