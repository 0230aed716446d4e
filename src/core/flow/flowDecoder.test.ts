import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyTalk, packetsOf } from '../../../e2e/support/captures';
import {
  bothWays,
  dataOf9,
  dataOfIpfix,
  ipfix,
  samplingOf9,
  templateOf9,
  templateOfIpfix,
  version5,
  version9,
  type OneWay,
} from '../../sim/flows/flowExports';
import { FlowDecoder, FlowError } from './flowDecoder';
import { TalkCounter } from './talkCounter';

const now = 1_777_900_000;
const exporter = '10.72.0.5';
const flow: OneWay = {
  from: '10.72.2.10',
  to: '10.72.2.20',
  ports: [50_000, 443],
  protocol: 6,
  packets: 7,
  octets: 4000,
  first: now - 60,
  last: now - 50,
};

/** What a decoder makes of datagrams, in words. */
function decoded(...datagrams: Buffer[]) {
  const told: string[] = [];
  const decoder = new FlowDecoder((octets, fields) => {
    const address = (at: number) => octets.slice(at, at + (fields.family === 4 ? 4 : 16)).join('.');
    told.push(
      `${address(fields.sourceAt)} ${fields.sourcePort} > ${address(fields.destinationAt)} ${fields.destinationPort}, ${fields.packets} packets, ${fields.octets} octets, ${Math.round((now - fields.from) * 1000) / 1000} s ago for ${Math.round((fields.until - fields.from) * 1000) / 1000} s`,
    );
  });
  for (const datagram of datagrams) decoder.decode(exporter, datagram);
  return { told, states: decoder.states() };
}
const words = '10.72.2.10 50000 > 10.72.2.20 443, 7 packets, 4000 octets, 60 s ago for 10 s';

describe('flows by exporters', () => {
  test('are the same by version 5, version 9 and IPFIX, times and all', () => {
    expect(decoded(version5([flow], now, 0)).told).toEqual([words]);
    expect(decoded(version9([templateOf9(256), dataOf9(256, [flow], now)], now, 0)).told).toEqual([words]);
    expect(decoded(ipfix([templateOfIpfix(300), dataOfIpfix(300, [flow])], now, 0)).told).toEqual([words]);
  });
  test('of generated talk are its conversations, alike from all of them', () => {
    fc.assert(
      fc.property(anyTalk, fc.constantFrom(5, 9, 10), (talks, version) => {
        const { truth } = packetsOf(version === 10 ? talks : talks.filter(({ client }) => !client.includes(':')));
        const flows = bothWays(truth, now - 1000, (nth) => 50_000 + nth);
        const counter = new TalkCounter();
        const decoder = new FlowDecoder((octets, fields) => counter.addFlow(octets, fields));
        for (let at = 0; at < flows.length; at += 4) {
          const some = flows.slice(at, at + 4);
          decoder.decode(
            exporter,
            version === 5
              ? version5(some, now, at)
              : version === 9
                ? version9([templateOf9(256), dataOf9(256, some, now)], now, at / 4)
                : ipfix([templateOfIpfix(256), dataOfIpfix(256, some)], now, at),
          );
        }
        const found = counter
          .end()
          .map(({ client, server, port, protocol, packets, octets }) =>
            JSON.stringify({ client, server, port, protocol, packets, octets }),
          );
        expect(found.sort()).toEqual(
          truth
            .map(({ client, server, port, protocol, packets, octets }) =>
              JSON.stringify({ client, server, port, protocol, packets, octets }),
            )
            .sort(),
        );
        expect(decoder.states().reduce((sum, { missed, restarts }) => sum + missed + restarts, 0)).toBe(0);
      }),
      { numRuns: 200 },
    );
  });
  test('wait for a template that comes late, and are told where it never comes', () => {
    const late = decoded(version9([dataOf9(256, [flow], now)], now, 0), version9([templateOf9(256)], now + 5, 1));
    expect(late).toMatchObject({ told: [words], states: [{ waiting: 0, givenUp: 0, records: 1 }] });
    const never = decoded(...Array.from({ length: 70 }, (_, at) => version9([dataOf9(256, [flow], now)], now, at)));
    expect(never).toMatchObject({ told: [], states: [{ waiting: 64, givenUp: 6 }] });
  });
  test('have templates by domain, which may change and be taken back', () => {
    const other = decoded(version9([templateOf9(256)], now, 0, 1), version9([dataOf9(256, [flow], now)], now, 0, 2));
    expect(other.told).toEqual([]);
    const withdrawn = Buffer.from([0, 2, 0, 8, 1, 44, 0, 0]);
    const back = decoded(
      ipfix([templateOfIpfix(300)], now, 0),
      ipfix([withdrawn], now, 0),
      ipfix([dataOfIpfix(300, [flow])], now, 0),
    );
    expect(back).toMatchObject({ told: [], states: [{ waiting: 1 }] });
  });
  test('that were sampled count as many times', () => {
    const sampled = words.replace('7 packets, 4000', '700 packets, 400000');
    expect(decoded(version5([flow], now, 0, 100)).told).toEqual([sampled]);
    expect(
      decoded(version9([samplingOf9(400, 100), templateOf9(256), dataOf9(256, [flow], now)], now, 0)).told,
    ).toEqual([sampled]);
  });
  test('that were lost on the way are told by their numbers, and so is a restart', () => {
    expect(decoded(version5([flow], now, 0), version5([flow], now, 11)).states).toMatchObject([{ missed: 10 }]);
    const [first, second, third] = [0, 1, 2].map((at) => version9([templateOf9(256)], now, at));
    if (!first || !second || !third) throw new Error('three were made');
    expect(decoded(first, third).states).toMatchObject([{ missed: 1 }]);
    // one that comes late was not lost
    expect(decoded(first, third, second).states).toMatchObject([{ missed: 0 }]);
    expect(decoded(version5([flow], now, 900_000), version5([flow], now, 0)).states).toMatchObject([
      { missed: 0, restarts: 1 },
    ]);
    expect(decoded(version5([flow], now, 4_294_967_295), version5([flow], now, 0)).states).toMatchObject([
      { missed: 0, restarts: 0 },
    ]);
  });
  test('octets at random, and datagrams with some of theirs changed, end in a FlowError or in records', () => {
    const real = [
      version5([flow], now, 0),
      version9([samplingOf9(400, 2), templateOf9(256), dataOf9(256, [flow], now)], now, 0),
      ipfix([templateOfIpfix(300), dataOfIpfix(300, [flow])], now, 0),
    ];
    fc.assert(
      fc.property(
        fc.constantFrom(...real, Buffer.alloc(0)),
        fc.array(fc.tuple(fc.nat(200), fc.nat(255)), { maxLength: 12 }),
        fc.nat(300),
        (whole, changes, length) => {
          const datagram = Buffer.from(whole.subarray(0, length));
          for (const [at, octet] of changes) if (at < datagram.length) datagram[at] = octet;
          const decoder = new FlowDecoder((octets, fields) => {
            expect(fields.sourceAt + (fields.family === 4 ? 4 : 16)).toBeLessThanOrEqual(octets.length);
          });
          try {
            decoder.decode(exporter, datagram);
          } catch (error) {
            expect(error).toBeInstanceOf(FlowError);
          }
        },
      ),
      { numRuns: 3000 },
    );
  });
});
