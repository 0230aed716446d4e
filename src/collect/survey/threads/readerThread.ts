import { parentPort, workerData } from 'node:worker_threads';
import { SeenCertificates } from '../../collector/seenCertificates';
import type { AddressHint } from '../../../core/estate/visit';
import { packSightings } from '../../../core/estate/sightingCodec';
import { AddressReader } from '../addressReader';
import type { FromThread, ThreadPlan, ToThread } from './messages';

/** A thread that reads addresses from first packet to facts; what it collects is taken by the thread that has the store. */
const { cancelled, scope, ...plan } = workerData as ThreadPlan;
const parent = parentPort;
if (!parent) throw new Error('a reader thread has no life of its own');
const tell = (message: FromThread) => parent.postMessage(message);
const over = new Int32Array(cancelled);
const certificates = new SeenCertificates();
let hints: Record<string, AddressHint> = {};
const waiting = new Map<number, () => void>();
let numbers = 0;

const reader = new AddressReader({
  ...plan,
  scope: { ...scope, follows: () => false },
  certificates,
  cancelled: () => Atomics.load(over, 0) !== 0,
  hintOf: (address) => hints[address] ?? {},
  onReading: (address, credential) => tell({ kind: 'reading', address, credential }),
});

parent.on('message', (message: ToThread) => {
  if (message.kind === 'taken') {
    waiting.get(message.visit)?.();
    waiting.delete(message.visit);
  } else if (message.kind === 'ask') {
    ({ hints } = message);
    // neighbours that are followed come with orders of their own: what is pinned for them must be known before they are asked
    certificates.know(message.pinned);
    void reader
      .readAll(
        message.addresses,
        (visit) =>
          new Promise((resolve) => {
            const number = ++numbers;
            waiting.set(number, resolve);
            for (const answer of visit.answers) {
              answer.packedSightings = packSightings(answer.report.sightings);
              answer.report.sightings = { forwarding: [], addresses: [] };
            }
            tell({ kind: 'visit', number, visit, certificates: certificates.take() });
          }),
      )
      .then(() => tell({ kind: 'asked' }));
  } else {
    reader.close();
    parent.close();
  }
});
