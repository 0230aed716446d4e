import { createSocket } from 'node:dgram';
import { startApplication } from '../e2e/support/application';
import { templateOf9, version9 } from '../src/sim/flows/flowExports';
import { freeUdpPort, stopAll, temporaryFolder } from '../e2e/support/program';
import { openStore } from '../src/store/base/database';
import { addToken } from '../src/store/tokens';
import { datagramsOf } from './flowDatagrams';

const recordsAtOnce = 25;
const exporters = 4;
const clients = 40_000;

/** Bench of exporters that send for a minute to the application as it is served: what was lost, and how fast the web answered meanwhile. */
export async function benchExporters(seconds = 60, recordsASecond = 20_000): Promise<Record<string, unknown>> {
  const data = temporaryFolder();
  const store = openStore(data);
  const token = addToken(store.db, { name: 'bench', role: 'administrator' });
  store.close();
  const port = await freeUdpPort();
  const app = await startApplication(data, undefined, [
    '--flows',
    `127.0.0.1:${port}`,
    '--flows-from',
    '127.0.0.0/24',
    '--flows-every',
    '20',
  ]);
  const ask = async (where: string) => {
    const answer = await fetch(`${app.address}/api/v1/${where}`, { headers: { authorization: `Bearer ${token}` } });
    return (await answer.json()) as Record<string, unknown>;
  };
  const now = Math.floor(Date.now() / 1000);
  // made before, so that to send them costs little
  const datagrams = datagramsOf(4000, recordsAtOnce, now, (at, nth) => {
    const which = (at * recordsAtOnce + nth) % clients;
    return {
      from: `10.72.${which >> 8}.${which & 255}`,
      to: `10.73.0.${1 + (which % 40)}`,
      port: 40_000 + (at % 20_000),
    };
  });
  const sockets = await Promise.all(
    Array.from({ length: exporters }, async (_, nth) => {
      const socket = createSocket('udp4');
      await new Promise<void>((resolve) => socket.bind(0, `127.0.0.${10 + nth}`, resolve));
      socket.send(version9([templateOf9(256)], now, 0), port, '127.0.0.1');
      return socket;
    }),
  );
  await new Promise((resolve) => setTimeout(resolve, 500));
  const answers: number[] = [];
  let isSending = true;
  const asking = (async () => {
    while (isSending) {
      for (const where of ['conversations?size=50', 'captures', 'devices?size=50']) {
        const began = performance.now();
        await ask(where);
        answers.push(performance.now() - began);
      }
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  })();
  const began = performance.now();
  let sent = 0;
  while (performance.now() - began < seconds * 1000) {
    const due = Math.floor(((performance.now() - began) / 1000) * (recordsASecond / recordsAtOnce));
    for (; sent < due; sent++) {
      const datagram = datagrams[sent % datagrams.length];
      // each exporter numbers its own datagrams
      if (!datagram) continue;
      datagram.writeUInt32BE(Math.floor(sent / exporters) + 1, 12);
      await new Promise<void>((resolve) =>
        sockets[sent % exporters]?.send(datagram, port, '127.0.0.1', () => resolve()),
      );
    }
    await new Promise((resolve) => setTimeout(resolve, 4));
  }
  const took = (performance.now() - began) / 1000;
  isSending = false;
  await asking;
  for (const socket of sockets) socket.close();
  let heard = 0;
  let state: Record<string, unknown> = {};
  for (let tries = 0; tries < 60 && heard < sent * recordsAtOnce; tries++) {
    await new Promise((resolve) => setTimeout(resolve, 1000));
    state = (await ask('flows')).state as Record<string, unknown>;
    heard = (state.exporters as { records: number }[]).reduce((sum, { records }) => sum + records, 0);
  }
  answers.sort((x, y) => x - y);
  const at = (share: number) => Math.round(answers[Math.floor(share * (answers.length - 1))] ?? 0);
  const told = {
    'records sent': sent * recordsAtOnce,
    'records a second': Math.round((sent * recordsAtOnce) / took),
    'records heard': heard,
    lost: (state.exporters as { missed: number }[]).reduce((sum, { missed }) => sum + missed, 0),
    dropped: state.dropped,
    overflowed: state.overflowed,
    'answers of the web': answers.length,
    'p50, p95, p99, most, ms': [at(0.5), at(0.95), at(0.99), at(1)],
  };
  await stopAll();
  return told;
}
