import { expect, test } from '@jest/globals';
import { FlowDecoder } from '../../core/flow/flowDecoder';
import { TalkCounter } from '../../core/flow/talkCounter';
import { ostermere } from '../ostermere/estate';
import { exportersOf } from '../ostermere/exporters';
import { FlowExporter } from './exporter';

test('what the exporters of the sample send is what they saw, whoever reads it', () => {
  const now = 1_790_000_000;
  for (const { address, version, talk } of exportersOf(ostermere(8))) {
    const counter = new TalkCounter();
    const decoder = new FlowDecoder((octets, fields) => counter.addFlow(octets, fields));
    const exporter = new FlowExporter('127.0.0.1', version, talk);
    const rounds = 12;
    for (let round = 0; round < rounds; round++)
      for (const datagram of exporter.datagrams(now + round * 20)) {
        expect(datagram.length).toBeLessThan(1472);
        decoder.decode(address, datagram);
      }
    const read = counter
      .end()
      .map(({ client, server, port, octets }) => [client, server, port, octets.toServer, octets.toClient]);
    const wanted = talk.map(({ client, server, port, says: [asked, answered] }) => [
      client,
      server,
      port,
      asked * rounds,
      answered * rounds,
    ]);
    expect(read.sort()).toEqual(wanted.sort());
    expect(decoder.states().map(({ missed }) => missed)).toEqual([0]);
  }
});
