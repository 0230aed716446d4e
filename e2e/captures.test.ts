// covers: src/core/flow src/collect/captures src/collect/flows src/cli/commands/flows
import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { existsSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { readCapture } from '../src/collect/captures/takeCapture';
import { anyCaptureStyle, anyTalk, captureOf, packetsOf } from './support/captures';
import { openStore } from '../src/store/base/database';
import { addToken } from '../src/store/tokens';
import { startApplication, type Application } from './support/application';
import {
  dataOf9,
  dataOfIpfix,
  ipfix,
  templateOf9,
  templateOfIpfix,
  version5,
  version9,
  type OneWay,
} from '../src/sim/flows/flowExports';
import { bolide, freeUdpPort, stop, stopAll, temporaryFolder } from './support/program';

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

describe('exporters of flows', () => {
  const listed = async (app: Application, where: string) => {
    const headers = { authorization: `Bearer ${token}` };
    return (await (await fetch(`${app.address}/api/v1/${where}`, { headers })).json()) as Record<string, unknown>;
  };
  let token = '';
  afterAll(stopAll);
  test('are heard where they are let in, by all three versions; what was lost and who was not let in is told', async () => {
    const data = temporaryFolder();
    const store = openStore(data);
    token = addToken(store.db, { name: 'test', role: 'administrator' });
    store.close();
    const port = await freeUdpPort();
    const app = await startApplication(data, undefined, [
      '--flows',
      `127.0.0.1:${port}`,
      '--flows-from',
      '127.0.0.1/32',
      '--flows-every',
      '1',
    ]);
    const now = Math.floor(Date.now() / 1000);
    const flow = (nth: number): OneWay => ({
      from: '10.72.99.7',
      to: `10.72.99.${50 + nth}`,
      ports: [50_000, 443],
      protocol: 6,
      packets: 7,
      octets: 4000,
      first: now - 60,
      last: now - 50,
    });
    const send = async (datagrams: Buffer[], from = '127.0.0.1') => {
      const socket = createSocket('udp4');
      await new Promise<void>((resolve) => socket.bind(0, from, resolve));
      for (const datagram of datagrams)
        await new Promise<void>((resolve) => socket.send(datagram, port, '127.0.0.1', () => resolve()));
      socket.close();
    };
    await send([
      version5([flow(5)], now, 0),
      // ten records were lost on the way
      version5([flow(5)], now, 11),
      version9([dataOf9(256, [flow(9)], now)], now, 0),
      version9([templateOf9(256)], now, 1),
      ipfix([templateOfIpfix(300), dataOfIpfix(300, [flow(10)])], now, 0),
      Buffer.from('no flows'),
    ]);
    await send([version5([{ ...flow(66), octets: 1e9 }], now, 0)], '127.0.0.9');
    const rows = async () => {
      const { rows: found } = (await listed(app, 'conversations')) as {
        rows: { serverAddress: string; packets: number; bytes: number; sources: string[] }[];
      };
      return found.map(({ serverAddress, packets, bytes, sources }) => [serverAddress, packets, bytes, ...sources]);
    };
    let found = await rows();
    for (let look = 0; look < 100 && found.length < 3; look++) {
      await new Promise((resolve) => setTimeout(resolve, 200));
      found = await rows();
    }
    expect(found).toEqual([
      ['10.72.99.55', 14, 8000, '127.0.0.1'],
      ['10.72.99.59', 7, 4000, '127.0.0.1'],
      ['10.72.99.60', 7, 4000, '127.0.0.1'],
    ]);
    const { state } = (await listed(app, 'flows')) as { state: Record<string, unknown> };
    expect(state).toMatchObject({
      listens: `127.0.0.1:${port}`,
      strangers: [{ address: '127.0.0.9', datagrams: 1 }],
      unreadable: 1,
      lastFault: expect.stringMatching(/^127\.0\.0\.1: version \d+ is none of 5, 9 and 10/),
    });
    expect(state.exporters).toMatchObject([
      { version: 5, records: 2, missed: 10 },
      { version: 9, records: 1, missed: 0, waiting: 0 },
      { version: 10, records: 1, missed: 0 },
    ]);
    // more of the same day is added to it
    await send([version5([flow(5)], now, 12)]);
    for (let look = 0; look < 100 && (await rows())[0]?.[1] !== 21; look++)
      await new Promise((resolve) => setTimeout(resolve, 200));
    expect((await rows())[0]).toEqual(['10.72.99.55', 21, 12_000, '127.0.0.1']);
    await stop(app.process);
  });
  test('a place that cannot be is refused before anything starts', async () => {
    for (const [where, words] of [
      ['somewhere', /--flows “somewhere”: write a port/],
      ['70000', /--flows “70000”/],
    ] as const)
      expect(await bolide(['serve', '--data', temporaryFolder(), '--flows', where])).toMatchObject({
        code: 2,
        err: expect.stringMatching(words),
      });
    expect(
      await bolide(['serve', '--data', temporaryFolder(), '--flows', '2055', '--flows-from', '10.72.0.0']),
    ).toMatchObject({ code: 2, err: expect.stringMatching(/“10\.72\.0\.0” is no prefix/) });
  });
});

test('files that are no captures are told once each, and the others are taken in', async () => {
  const data = temporaryFolder();
  openStore(data).close();
  const [good, noise, folder] = [path.join(data, 'good.pcap'), path.join(data, 'noise'), temporaryFolder()];
  const { packets } = packetsOf([
    {
      client: '10.72.2.10',
      server: '10.72.2.20',
      port: 443,
      protocol: 6,
      connections: [{ clientPort: 50_000, at: 1_777_896_000, says: [1] }],
    },
  ]);
  writeFileSync(good, captureOf(packets, { format: 'pcap', bigEndian: true, link: 'raw' }));
  writeFileSync(noise, 'no packets here');
  const missing = path.join(data, 'gone.pcap');
  const args = ['import', 'captures', noise, good, missing, folder, '--data', data];
  const { code, out, err } = await bolide(args);
  expect([code, out]).toEqual([2, '']);
  expect(err.trim().split('\n')).toEqual([
    `${noise}: refused: this is no pcap or pcapng file, at octet 0`,
    expect.stringMatching(/good\.pcap: \d+ packets, 1 conversation, taken in$/),
    `${missing}: refused: there is no such file`,
    `${folder}: refused: this is a folder: name the files in it`,
    '3 of 4 refused',
  ]);
  const told = await bolide([...args, '--json']);
  const { files } = JSON.parse(told.out) as { files: { state: string }[] };
  expect([told.code, ...files.map(({ state }) => state)]).toEqual([
    2,
    'refused',
    'taken in before',
    'refused',
    'refused',
  ]);
  expect(told.err).toContain(`${missing}: there is no such file`);
}, 60_000);

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

describe('a capture at a host', () => {
  afterAll(stopAll);
  const talks = [
    { client: '10.72.2.10', port: 443, says: [3, 2] },
    { client: '10.72.2.11', port: 443, says: [1] },
    { client: '10.72.2.10', port: 8080, says: [5] },
  ].map(({ client, port, says }, nth) => ({
    client,
    server: '10.72.2.20',
    port,
    protocol: 6 as const,
    connections: [{ clientPort: 50_000 + nth, at: 1_777_896_000 + nth, says }],
  }));

  test('sends what it counted, each batch once; what no listener explains only when asked; what could not arrive waits', async () => {
    const data = temporaryFolder();
    const store = openStore(data);
    const token = addToken(store.db, { name: 'at a host', role: 'operator', areas: ['agents'] });
    const reader = addToken(store.db, { name: 'reader', role: 'viewer' });
    store.close();
    const { packets, truth } = packetsOf(talks);
    const file = path.join(data, 'mirror.pcap');
    writeFileSync(file, captureOf(packets, { format: 'pcap', bigEndian: false, link: 'ethernet' }));
    const spool = path.join(data, 'spool');
    const capture = (server: string, ...more: string[]) =>
      bolide(['capture', '--pcap', file, '--server', server, '--spool', spool, '--point', 'mirror', ...more], {
        BOLIDE_TOKEN: token,
      });
    // nobody is there: what was heard waits on disk
    const away = await capture('http://127.0.0.1:9', '--unknown', '--filter', 'port=443');
    expect([away.code, away.out, away.err]).toEqual([
      1,
      '',
      expect.stringContaining('run it again once the server answers'),
    ]);

    const app = await startApplication(data);
    const asked = async (what: string) =>
      (
        (await (
          await fetch(`${app.address}/api/v1/${what}`, { headers: { authorization: `Bearer ${reader}` } })
        ).json()) as {
          rows: Record<string, unknown>[];
        }
      ).rows;
    const conversations = async () =>
      (await asked('conversations'))
        .map(({ clientAddress, port, packets: all, bytes }) => [clientAddress, port, all, bytes].join(' '))
        .sort();
    const counted = (port: number) =>
      truth
        .filter((one) => one.port === port)
        .map(({ client, packets: p, octets: o }) =>
          [client, port, p.toServer + p.toClient, o.toServer + o.toClient].join(' '),
        )
        .sort();
    // what waits arrives first; no listener is known, so that of the rest nothing leaves the host
    const silent = await capture(app.address, '--filter', 'port=8080', '--show');
    expect([silent.code, silent.out]).toEqual([0, '']);
    expect(await conversations()).toEqual([]);
    expect(await asked('captures/agents')).toMatchObject([{ point: 'mirror', heldBack: 3, isSilent: false }]);
    const open = await capture(app.address, '--filter', 'port=443', '--unknown', '--show');
    expect(open.code).toBe(0);
    expect(open.out.trim().split('\n')).toHaveLength(2);
    expect(open.out).toContain('tcp 10.72.2.11 → 10.72.2.20, port 443: 1 connection');
    expect(await conversations()).toEqual(counted(443));

    const batch = {
      id: 'the-same-batch-1',
      point: 'mirror',
      everySeconds: 60,
      packets: 2,
      overflowed: 0,
      heldBack: 0,
      talks: [
        {
          client: '10.72.2.12',
          server: '10.72.2.20',
          port: 443,
          protocol: 6,
          basis: 'opening',
          events: 1,
          packets: { toServer: 1, toClient: 1 },
          octets: { toServer: 40, toClient: 60 },
          firstSeen: 1_777_896_000,
          lastSeen: 1_777_896_001,
          hours: [493_860],
        },
      ],
    };
    const send = async (body: object, by = token) => {
      const answer = await fetch(`${app.address}/api/v1/captures/batches`, {
        method: 'POST',
        headers: { authorization: `Bearer ${by}`, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
      return [answer.status, ((await answer.json()) as { state?: string }).state];
    };
    expect([await send(batch), await send(batch)]).toEqual([
      [200, 'counted'],
      [200, 'known'],
    ]);
    expect(await conversations()).toContain('10.72.2.12 443 2 100');
    expect(await send({ ...batch, id: 'from-the-future', talks: [{ ...batch.talks[0], lastSeen: 3e9 }] })).toEqual([
      422,
      undefined,
    ]);
    expect((await send(batch, reader))[0]).toBe(403);
    // a token of an agent may do nothing else
    const other = await fetch(`${app.address}/api/v1/devices`, { headers: { authorization: `Bearer ${token}` } });
    expect(other.status).toBe(403);
  }, 90_000);

  test('what cannot be is refused before anything is heard', async () => {
    const refused = async (...more: string[]) => {
      const { code, err } = await bolide(['capture', '--server', 'http://127.0.0.1:9', '--token', 'x', ...more]);
      return `${code} ${err.trim()}`;
    };
    expect(await refused()).toContain('2 give one of --pcap and --interface');
    expect(await refused('--pcap', '/no/such')).toContain('2 --pcap: there is no file “/no/such”');
    expect(await refused('--pcap', '-', '--filter', 'prot=6')).toContain('2 --filter: ');
    expect(await refused('--pcap', '-', '--every', '0')).toContain('2 --every: “0” is no whole number');
    expect(await refused('--interface', '-w /etc/passwd')).toContain('is no interface');
  });
});
