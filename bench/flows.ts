import { spawnSync } from 'node:child_process';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { once } from 'node:events';
import path from 'node:path';
import { captureOf, ipPacket } from '../e2e/support/captures';
import { templateOf9, version9 } from '../src/sim/flows/flowExports';
import { temporaryFolder } from '../e2e/support/program';
import { CaptureReader } from '../src/core/flow/captureReader';
import { FlowDecoder } from '../src/core/flow/flowDecoder';
import { PacketFields, readPacket } from '../src/core/flow/packet';
import { TalkCounter } from '../src/core/flow/talkCounter';
import { datagramsOf } from './flowDatagrams';

const tshark = '/usr/bin/tshark';
const megabyte = 1024 * 1024;
const hosts = 400;
const connections = 5000;
const pieceSize = megabyte;

/** Packets of connections among some hundred hosts: half of them short, half as long as an Ethernet takes. */
function piece(packets: number, from: number): Buffer {
  return captureOf(
    Array.from({ length: packets }, (_, nth) => {
      const at = from + nth;
      const which = (at * 7919) % connections;
      const [client, server] = [which % hosts, (which * 13) % 40];
      return {
        at: 1_777_896_000 + at / 20_000,
        octets: ipPacket(
          `10.72.${10 + (client >> 7)}.${1 + (client & 127)}`,
          `10.72.2.${1 + server}`,
          6,
          [40_000 + which, 443],
          nth % 2 ? 60 : 1300,
        ),
      };
    }),
    { format: 'pcap', bigEndian: false, link: 'ethernet' },
  );
}

const head = 24;
const packetsAtOnce = 20_000;

/** Bench of captures: how fast one is read and counted, against tshark with the same fields; memory over five gigabytes. */
export async function benchFlows(megabytes = 200, wholeMegabytes = 5 * 1024): Promise<Record<string, unknown>> {
  const file = path.join(temporaryFolder(), 'talk.pcap');
  const out = createWriteStream(file);
  const first = piece(packetsAtOnce, 0);
  out.write(first);
  let packets = packetsAtOnce;
  for (let size = first.length; size < megabytes * megabyte;) {
    const more = piece(packetsAtOnce, packets).subarray(head);
    size += more.length;
    packets += packetsAtOnce;
    if (!out.write(more)) await once(out, 'drain');
  }
  out.end();
  await once(out, 'finish');

  const ours: number[] = [];
  const theirs: number[] = [];
  let conversations = 0;
  for (let run = 0; run < 3; run++) {
    const began = performance.now();
    conversations = await readWhole(file);
    ours.push((performance.now() - began) / 1000);
    if (!existsSync(tshark)) continue;
    const peerBegan = performance.now();
    spawnSync(
      tshark,
      [
        '-n',
        '-r',
        file,
        '-T',
        'fields',
        ...[
          'frame.time_epoch',
          'ip.src',
          'ip.dst',
          'ip.proto',
          'ip.len',
          'tcp.srcport',
          'tcp.dstport',
          'tcp.flags',
        ].flatMap((field) => ['-e', field]),
      ],
      { stdio: ['ignore', 'ignore', 'ignore'] },
    );
    theirs.push((performance.now() - peerBegan) / 1000);
  }
  const median = (values: number[]) => [...values].sort((x, y) => x - y)[values.length >> 1] ?? Number.NaN;
  const seconds = median(ours);
  return {
    megabytes,
    packets,
    conversations,
    seconds: round(seconds),
    gigabytesAMinute: round(((megabytes / 1024) * 60) / seconds),
    ...(theirs.length > 0
      ? { tsharkSeconds: round(median(theirs)), timesFaster: round(median(theirs) / seconds) }
      : { tshark: 'is not installed (Debian package tshark)' }),
    memoryMB: memoryOver(wholeMegabytes),
    recordsASecond: recordsASecond(),
  };
}

const round = (value: number) => Math.round(value * 100) / 100;

async function readWhole(file: string): Promise<number> {
  const counter = new TalkCounter();
  const fields = new PacketFields();
  const reader = new CaptureReader(({ octets, start, end, at, linkType }) => {
    if (readPacket(octets, start, end, linkType, fields)) counter.add(octets, fields, at);
  });
  for await (const some of createReadStream(file, { highWaterMark: pieceSize })) reader.push(some as Buffer);
  reader.end();
  return counter.end().length;
}

/** Resident memory after each fifth of a capture of that length: its pieces are made as it goes. */
function memoryOver(megabytes: number): number[] {
  const counter = new TalkCounter();
  const fields = new PacketFields();
  const reader = new CaptureReader(({ octets, start, end, at, linkType }) => {
    if (readPacket(octets, start, end, linkType, fields)) counter.add(octets, fields, at);
  });
  const whole = piece(packetsAtOnce, 0);
  reader.push(whole.subarray(0, head));
  const body = whole.subarray(head);
  const told: number[] = [];
  for (let done = 0, fifth = 1; done < megabytes * megabyte; done += body.length) {
    reader.push(body);
    if (done > (fifth * megabytes * megabyte) / 5) {
      told.push(Math.round(process.memoryUsage().rss / megabyte));
      fifth++;
    }
  }
  reader.end();
  told.push(Math.round(process.memoryUsage().rss / megabyte));
  return told;
}

/** Records of version 9 that are decoded and counted in a second, thirty in a datagram. */
function recordsASecond(): number {
  const now = 1_777_900_000;
  const counter = new TalkCounter();
  const decoder = new FlowDecoder((octets, fields) => counter.addFlow(octets, fields));
  decoder.decode('10.72.0.5', version9([templateOf9(256)], now, 0));
  const datagrams = datagramsOf(200, 30, now, (at, nth) => ({
    from: `10.72.${at}.${nth + 1}`,
    to: `10.72.2.${1 + (nth % 40)}`,
    port: 40_000 + at,
  }));
  const rounds = 100;
  const began = performance.now();
  for (let round = 0; round < rounds; round++) for (const one of datagrams) decoder.decode('10.72.0.5', one);
  return Math.round((rounds * datagrams.length * 30) / ((performance.now() - began) / 1000));
}
