import fc from 'fast-check';
import { addressOctets } from '../../src/sim/flows/addressOctets';

/** Captures made up, with what is so in them: written octet by octet, with nothing of the reader. */

export interface SaidPacket {
  /** seconds since the epoch, to the microsecond */
  at: number;
  octets: Buffer;
}

export interface MadeTalk {
  client: string;
  server: string;
  port: number;
  protocol: 6 | 17;
  /** of each connection: the port of the client, when it began, and how many octets of payload each side says in turn */
  connections: { clientPort: number; at: number; says: number[] }[];
}

/** What is to be found of it. */
export interface TalkTruth {
  client: string;
  server: string;
  port: number;
  protocol: number;
  events: number;
  packets: { toServer: number; toClient: number };
  octets: { toServer: number; toClient: number };
}

const [syn, ack, fin] = [0x02, 0x10, 0x01];
/** An IP packet of TCP or UDP. */
export function ipPacket(
  from: string,
  to: string,
  protocol: 6 | 17,
  ports: [number, number],
  payload: number,
  flags = ack,
): Buffer {
  const head = Buffer.alloc(protocol === 6 ? 20 : 8);
  head.writeUInt16BE(ports[0], 0);
  head.writeUInt16BE(ports[1], 2);
  if (protocol === 6) {
    head[12] = 0x50;
    head[13] = flags;
  } else head.writeUInt16BE(8 + payload, 4);
  const inner = Buffer.concat([head, Buffer.alloc(payload)]);
  if (from.includes(':')) {
    const ip = Buffer.alloc(40);
    ip[0] = 0x60;
    ip.writeUInt16BE(inner.length, 4);
    ip[6] = protocol;
    ip[7] = 64;
    addressOctets(from).copy(ip, 8);
    addressOctets(to).copy(ip, 24);
    return Buffer.concat([ip, inner]);
  }
  const ip = Buffer.alloc(20);
  ip[0] = 0x45;
  ip.writeUInt16BE(20 + inner.length, 2);
  ip[8] = 64;
  ip[9] = protocol;
  addressOctets(from).copy(ip, 12);
  addressOctets(to).copy(ip, 16);
  return Buffer.concat([ip, inner]);
}

/** With a head of Ethernet, and the tag of a VLAN where it is in one. */
export const onEthernet = (packet: Buffer, vlan = 0): Buffer =>
  Buffer.concat([
    Buffer.from('020000000001020000000002', 'hex'),
    ...(vlan ? [Buffer.from([0x81, 0, vlan >> 8, vlan & 255])] : []),
    Buffer.from((packet[0] ?? 0) >> 4 === 6 ? [0x86, 0xdd] : [0x08, 0x00]),
    packet,
  ]);

const shortly = 0.001;

/** All packets of what was said, in the order of their times, and what is to be found. */
export function packetsOf(talks: readonly MadeTalk[]): { packets: SaidPacket[]; truth: TalkTruth[] } {
  const packets: SaidPacket[] = [];
  const truth = talks.map(({ client, server, port, protocol, connections }): TalkTruth => {
    const told: TalkTruth = {
      client,
      server,
      port,
      protocol,
      events: connections.length,
      packets: { toServer: 0, toClient: 0 },
      octets: { toServer: 0, toClient: 0 },
    };
    for (const { clientPort, at, says } of connections) {
      let now = at;
      const say = (toServer: boolean, payload: number, flags: number) => {
        const packet = toServer
          ? ipPacket(client, server, protocol, [clientPort, port], payload, flags)
          : ipPacket(server, client, protocol, [port, clientPort], payload, flags);
        told.packets[toServer ? 'toServer' : 'toClient']++;
        told.octets[toServer ? 'toServer' : 'toClient'] += packet.length;
        packets.push({ at: Math.round((now += shortly) * 1e6) / 1e6, octets: packet });
      };
      if (protocol === 6) {
        say(true, 0, syn);
        say(false, 0, syn | ack);
      }
      says.forEach((payload, turn) => say(turn % 2 === 0, payload, ack));
      if (protocol === 6) say(true, 0, fin | ack);
    }
    return told;
  });
  return { packets: packets.sort((x, y) => x.at - y.at), truth };
}

export interface CaptureStyle {
  format: 'pcap' | 'pcap, nanoseconds' | 'pcapng' | 'pcapng, nanoseconds';
  bigEndian: boolean;
  link: 'ethernet' | 'vlan' | 'raw' | 'linux cooked';
}

export const anyCaptureStyle: fc.Arbitrary<CaptureStyle> = fc.record({
  format: fc.constantFrom('pcap', 'pcap, nanoseconds', 'pcapng', 'pcapng, nanoseconds'),
  bigEndian: fc.boolean(),
  link: fc.constantFrom('ethernet', 'vlan', 'raw', 'linux cooked'),
});

const linkNumbers: Record<CaptureStyle['link'], number> = { ethernet: 1, vlan: 1, raw: 101, 'linux cooked': 113 };
const onLink = (packet: Buffer, link: CaptureStyle['link']): Buffer => {
  switch (link) {
    case 'ethernet':
      return onEthernet(packet);
    case 'vlan':
      return onEthernet(packet, 30);
    case 'linux cooked': {
      const head = Buffer.alloc(16);
      head.writeUInt16BE((packet[0] ?? 0) >> 4 === 6 ? 0x86dd : 0x0800, 14);
      return Buffer.concat([head, packet]);
    }
    case 'raw':
      return packet;
  }
};

/** A file of IP packets, each put on the link that the style has. */
export function captureOf(packets: readonly SaidPacket[], { format, bigEndian, link }: CaptureStyle): Buffer {
  const put = (size: 2 | 4, value: number): Buffer => {
    const octets = Buffer.alloc(size);
    if (bigEndian) octets.writeUIntBE(value, 0, size);
    else octets.writeUIntLE(value, 0, size);
    return octets;
  };
  const isNano = format.endsWith('nanoseconds');
  const padded = (octets: Buffer) => Buffer.concat([octets, Buffer.alloc((4 - (octets.length % 4)) % 4)]);
  const onLinks = packets.map(({ at, octets }) => ({
    micros: BigInt(Math.round(at * 1e6)),
    octets: onLink(octets, link),
  }));
  if (format.startsWith('pcapng')) {
    const block = (type: number, ...parts: Buffer[]) => {
      const body = padded(Buffer.concat(parts));
      return Buffer.concat([put(4, type), put(4, body.length + 12), body, put(4, body.length + 12)]);
    };
    const section = block(0x0a0d0d0a, put(4, 0x1a2b3c4d), put(2, 1), put(2, 0), Buffer.alloc(8, 0xff));
    const resolution = isNano ? [put(2, 9), put(2, 1), Buffer.from([9, 0, 0, 0]), put(2, 0), put(2, 0)] : [];
    const described = block(1, put(2, linkNumbers[link]), put(2, 0), put(4, 65_535), ...resolution);
    return Buffer.concat([
      section,
      described,
      // statistics, which nobody asked for
      block(5, put(4, 0), put(4, 0), put(4, 0)),
      ...onLinks.map(({ micros, octets }) => {
        const units = isNano ? micros * 1000n : micros;
        return block(
          6,
          put(4, 0),
          put(4, Number(units >> 32n)),
          put(4, Number(units & 0xffff_ffffn)),
          put(4, octets.length),
          put(4, octets.length),
          octets,
        );
      }),
    ]);
  }
  return Buffer.concat([
    put(4, isNano ? 0xa1b23c4d : 0xa1b2c3d4),
    put(2, 2),
    put(2, 4),
    Buffer.alloc(8),
    put(4, 65_535),
    put(4, linkNumbers[link]),
    ...onLinks.flatMap(({ micros, octets }) => [
      put(4, Number(micros / 1_000_000n)),
      put(4, Number(micros % 1_000_000n) * (isNano ? 1000 : 1)),
      put(4, octets.length),
      put(4, octets.length),
      octets,
    ]),
  ]);
}

/** Talk of a few hosts, some of it by IPv6: each client asks a server's port by connections of its own. */
export const anyTalk: fc.Arbitrary<MadeTalk[]> = fc
  .uniqueArray(
    fc.record({
      pair: fc.constantFrom(
        ['10.72.2.10', '10.72.2.20'],
        ['10.72.2.11', '10.72.2.20'],
        ['10.72.2.20', '10.72.2.30'],
        ['fd00:72::10', 'fd00:72::20'],
      ),
      port: fc.constantFrom(53, 443, 1883, 5432),
      protocol: fc.constantFrom<6 | 17>(6, 17),
      connections: fc.array(
        fc.record({
          at: fc.integer({ min: 0, max: 7200 }),
          says: fc.array(fc.integer({ min: 1, max: 1200 }), { minLength: 1, maxLength: 5 }),
        }),
        { minLength: 1, maxLength: 4 },
      ),
    }),
    { maxLength: 6, selector: ({ pair, port, protocol }) => `${pair.join()} ${port} ${protocol}` },
  )
  .map((made) =>
    made.map(({ pair, port, protocol, connections }, nth) => ({
      client: pair[0],
      server: pair[1],
      port,
      protocol,
      // noon of a day in May 2026; no two connections have a port in common
      connections: connections.map(({ at, says }, which) => ({
        clientPort: 50_000 + nth * 100 + which,
        at: 1_777_896_000 + at,
        says,
      })),
    })),
  );
