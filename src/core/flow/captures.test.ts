import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  anyCaptureStyle,
  anyTalk,
  captureOf,
  ipPacket,
  onEthernet,
  packetsOf,
  type CaptureStyle,
} from '../../../e2e/support/captures';
import { CaptureError, CaptureReader } from './captureReader';
import { PacketFields, readPacket } from './packet';
import type { Talk } from './talk';
import { TalkCounter } from './talkCounter';

const plain: CaptureStyle = { format: 'pcap', bigEndian: false, link: 'ethernet' };

/** A capture read in pieces of some length. */
function talkIn(file: Buffer, pieceLength = 1 << 16, counter = new TalkCounter()): Talk[] {
  const fields = new PacketFields();
  const reader = new CaptureReader(({ octets, start, end, at, linkType }) => {
    if (readPacket(octets, start, end, linkType, fields)) counter.add(octets, fields, at);
  });
  for (let at = 0; at < file.length; at += pieceLength) reader.push(file.subarray(at, at + pieceLength));
  reader.end();
  return counter.end();
}
const alone = ({
  client,
  server,
  port,
  protocol,
  events,
  packets,
  octets,
}: Omit<Talk, 'basis' | 'firstSeen' | 'lastSeen' | 'hours'>) => ({
  client,
  server,
  port,
  protocol,
  events,
  packets,
  octets,
});
const inOrder = <Row extends object>(rows: Row[]) => rows.map((row) => JSON.stringify(row)).sort();

describe('captures', () => {
  test('whatever their form, and in whatever pieces they come, tell who talked to whom, how often and how much', () => {
    fc.assert(
      fc.property(anyTalk, anyCaptureStyle, fc.integer({ min: 1, max: 700 }), (talks, style, pieceLength) => {
        const { packets, truth } = packetsOf(talks);
        const found = talkIn(captureOf(packets, style), pieceLength);
        expect(inOrder(found.map(alone))).toEqual(inOrder(truth));
      }),
      { numRuns: 150 },
    );
  });
  test('one that is cut anywhere tells what came before, or that it is none', () => {
    const { packets } = packetsOf([
      {
        client: '10.72.2.10',
        server: '10.72.2.20',
        port: 443,
        protocol: 6,
        connections: [{ clientPort: 50_000, at: 1_777_896_000, says: [10, 20] }],
      },
    ]);
    fc.assert(
      fc.property(anyCaptureStyle, fc.double({ min: 0, max: 1, noNaN: true }), (style, share) => {
        const whole = captureOf(packets, style);
        const cut = whole.subarray(0, Math.floor(whole.length * share));
        const seen: number[] = [];
        const reader = new CaptureReader(({ at }) => seen.push(at));
        let told = '';
        try {
          reader.push(cut);
          reader.end();
        } catch (error) {
          if (!(error instanceof CaptureError)) throw error;
          told = error.message;
        }
        expect(seen).toEqual(packets.slice(0, seen.length).map(({ at }) => expect.closeTo(at, 5)));
        if (cut.length < whole.length && seen.length < packets.length && told === '')
          // between two packets nobody can tell that one is missing
          expect(seen.length).toBeLessThan(packets.length);
        if (cut.length === 0) expect(told).toMatch(/empty/);
      }),
      { numRuns: 300 },
    );
  });
  test('octets at random end in a CaptureError, or in nothing at all', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 400 }),
        fc.constantFrom('', 'd4c3b2a1', '4d3cb2a1', 'a1b2c3d4', '0a0d0d0a1c0000004d3c2b1a'),
        (rest, head) => {
          const reader = new CaptureReader(({ octets, start, end, linkType }) => {
            readPacket(octets, start, end, linkType, new PacketFields());
          });
          try {
            reader.push(Buffer.concat([Buffer.from(head, 'hex'), rest]));
            reader.end();
          } catch (error) {
            expect(error).toBeInstanceOf(CaptureError);
          }
        },
      ),
      { numRuns: 1500 },
    );
  });
});

describe('packets', () => {
  const fields = (octets: Buffer, linkType = 1): PacketFields | null => {
    const into = new PacketFields();
    return readPacket(octets, 0, octets.length, linkType, into) ? into : null;
  };
  test('at random are read without a fault, or are none', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 120 }),
        fc.constantFrom(0, 1, 12, 101, 108, 113, 276),
        (octets, linkType) => {
          const told = fields(Buffer.from(octets), linkType);
          if (told) expect([4, 6]).toContain(told.family);
        },
      ),
      { numRuns: 3000 },
    );
  });
  test('in two VLANs, behind labels of MPLS, and in LLC with SNAP', () => {
    const ip = ipPacket('10.72.2.10', '10.72.2.20', 17, [50_000, 53], 20);
    const macs = Buffer.from('020000000001020000000002', 'hex');
    const twice = Buffer.concat([macs, Buffer.from('88a800058100001e0800', 'hex'), ip]);
    expect(fields(twice)).toMatchObject({ vlan: 5, sourcePort: 50_000, destinationPort: 53, length: ip.length });
    const labels = Buffer.concat([macs, Buffer.from('8847000640400001013f', 'hex'), ip]);
    expect(fields(labels)).toMatchObject({ destinationPort: 53 });
    const snap = Buffer.concat([macs, Buffer.from([0, ip.length + 8]), Buffer.from('aaaa030000000800', 'hex'), ip]);
    expect(fields(snap)).toMatchObject({ destinationPort: 53 });
    expect(fields(Buffer.concat([macs, Buffer.from('0806', 'hex'), Buffer.alloc(28)]))).toBeNull();
  });
  test('behind extension heads of IPv6; later fragments tell no ports', () => {
    const six = ipPacket('fd00:72::10', 'fd00:72::20', 17, [50_000, 53], 4);
    const withHeads = (first: number, heads: string) => {
      const extra = Buffer.from(heads, 'hex');
      const packet = Buffer.concat([six.subarray(0, 40), extra, six.subarray(40)]);
      packet.writeUInt16BE(packet.length - 40, 4);
      packet[6] = first;
      return fields(onEthernet(packet));
    };
    // hop by hop, then destination options
    expect(withHeads(0, '3c000104000000001100010400000000')).toMatchObject({ protocol: 17, destinationPort: 53 });
    expect(withHeads(44, '1100000100000001')).toMatchObject({ isFragment: false, destinationPort: 53 });
    expect(withHeads(44, '1100040100000001')).toMatchObject({ isFragment: true, destinationPort: 0 });
    const four = ipPacket('10.72.2.10', '10.72.2.20', 17, [50_000, 53], 4);
    four.writeUInt16BE(100, 6);
    expect(fields(onEthernet(four))).toMatchObject({ isFragment: true, destinationPort: 0 });
  });
});

describe('who serves', () => {
  const said = (packets: [from: string, to: string, ports: [number, number], flags?: number][], protocol: 6 | 17 = 6) =>
    captureOf(
      packets.map(([from, to, ports, flags], at) => ({
        at: 1_777_896_000 + at,
        octets: ipPacket(from, to, protocol, ports, 1, flags),
      })),
      plain,
    );
  const [one, two] = ['10.72.2.10', '10.72.2.20'];
  const told = (file: Buffer, counter?: TalkCounter) =>
    talkIn(file, 1 << 16, counter).map(({ server, port, basis }) => `${server} ${port} by ${basis}`);
  test('is told by a listener that is known, then by who opened the connection, then by the ports', () => {
    // the client has the lower port, and the opening was not seen
    const middle = said([[one, two, [1025, 8443]]]);
    expect(told(middle)).toEqual([`${one} 1025 by port`]);
    expect(told(said([[one, two, [1025, 8443], 0x02]]))).toEqual([`${two} 8443 by opening`]);
    expect(told(said([[two, one, [8443, 1025], 0x12]]))).toEqual([`${two} 8443 by opening`]);
    const listens = new TalkCounter((address, protocol, port) => address === two && protocol === 6 && port === 8443);
    expect(told(middle, listens)).toEqual([`${two} 8443 by listener`]);
  });
  test('a system port serves before a registered one, and that before one that is handed out', () => {
    expect(told(said([[one, two, [8443, 22]]]))).toEqual([`${two} 22 by port`]);
    expect(told(said([[one, two, [60_000, 8443]]]))).toEqual([`${two} 8443 by port`]);
    expect(told(said([[one, two, [514, 514]]], 17))).toHaveLength(1);
  });
  test('flows beyond what is held at once are counted, and none is lost', () => {
    const counter = new TalkCounter();
    const fields = new PacketFields();
    const flows = 300_000;
    for (let flow = 0; flow < flows; flow++) {
      const octets = ipPacket(`10.${flow & 15}.2.10`, two, 17, [1024 + (flow % 60_000), 53], 1);
      octets[13] = (flow >> 12) & 255;
      octets[14] = flow & 255;
      if (!readPacket(octets, 0, octets.length, 101, fields)) throw new Error('no packet');
      counter.add(octets, fields, 1_777_896_000 + flow / 1000);
    }
    const talks = counter.end();
    expect(talks.reduce((sum, { packets }) => sum + packets.toServer, 0)).toBe(flows);
    expect(talks.every(({ server, port }) => server === two && port === 53)).toBe(true);
  });
});
