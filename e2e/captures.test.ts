// covers: src/core/flow src/collect/captures
import { expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { readCapture } from '../src/collect/captures/takeCapture';
import { anyCaptureStyle, anyTalk, captureOf, packetsOf } from './support/captures';
import { temporaryFolder } from './support/program';

/** Captures held against another reader of packets, where it is installed (Debian package tshark). */
const tshark = '/usr/bin/tshark';
const fields = [
  'ip.src',
  'ipv6.src',
  'ip.dst',
  'ipv6.dst',
  'tcp.srcport',
  'udp.srcport',
  'tcp.dstport',
  'udp.dstport',
  'ip.len',
  'ipv6.plen',
];
const held = existsSync(tshark) ? test : test.skip;

held(
  'another reader counts the same packets and octets between the same ends',
  async () => {
    const folder = temporaryFolder();
    const now = new Date('2026-06-01T00:00:00Z');
    await fc.assert(
      fc.asyncProperty(anyTalk, anyCaptureStyle, async (talks, style) => {
        const file = path.join(folder, 'made.cap');
        writeFileSync(file, captureOf(packetsOf(talks).packets, style));
        const counts = new Map<string, [packets: number, octets: number]>();
        const out = execFileSync(
          tshark,
          ['-n', '-r', file, '-T', 'fields', ...fields.flatMap((field) => ['-e', field])],
          {
            encoding: 'utf8',
            stdio: ['ignore', 'pipe', 'ignore'],
          },
        );
        for (const line of out.split('\n').filter(Boolean)) {
          const [from4, from6, to4, to6, fromTcp, fromUdp, toTcp, toUdp, length4, length6] = line.split('\t');
          const ends = [
            [from4 || from6, fromTcp || fromUdp],
            [to4 || to6, toTcp || toUdp],
          ].map((end) => end.join(' '));
          // the end whose port is no passing one serves
          const [client, server] = Number(ends[0]?.split(' ')[1]) >= 50_000 ? ends : ends.toReversed();
          const key = `${client?.split(' ')[0]} > ${server}`;
          const [packets, octets] = counts.get(key) ?? [0, 0];
          counts.set(key, [packets + 1, octets + (length4 ? Number(length4) : Number(length6) + 40)]);
        }
        const ours = new Map<string, [number, number]>();
        for (const { client, server, port, packets, octets } of (await readCapture(file, { now })).talks) {
          const key = `${client} > ${server} ${port}`;
          const [before, much] = ours.get(key) ?? [0, 0];
          ours.set(key, [before + packets.toServer + packets.toClient, much + octets.toServer + octets.toClient]);
        }
        expect(Object.fromEntries(ours)).toEqual(Object.fromEntries(counts));
      }),
      { numRuns: 12 },
    );
  },
  60_000,
);

test('what cannot be of its time is left out, and told; what is no IP too', async () => {
  const file = path.join(temporaryFolder(), 'odd.pcap');
  const { packets } = packetsOf([
    {
      client: '10.72.2.10',
      server: '10.72.2.20',
      port: 443,
      protocol: 6,
      connections: [{ clientPort: 50_000, at: 1_777_896_000, says: [1] }],
    },
  ]);
  const [first, ...rest] = packets;
  if (!first) throw new Error('there are packets');
  const arp = { at: first.at, octets: Buffer.from('not a packet of IP at all') };
  const made = [{ ...first, at: 4_000_000_000 }, { ...first, at: 10 }, arp, ...rest];
  writeFileSync(file, captureOf(made, { format: 'pcap', bigEndian: true, link: 'raw' }));
  const { taken, talks, timeless } = await readCapture(file, { now: new Date('2026-06-01T00:00:00Z') });
  expect(taken).toMatchObject({ packets: made.length, passedOver: 1, brokenOff: '' });
  expect(timeless).toBe(2);
  expect(talks.map(({ packets: count }) => count.toServer + count.toClient)).toEqual([rest.length]);
});
