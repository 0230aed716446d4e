import { MessageChannel, receiveMessageOnPort, Worker } from 'node:worker_threads';
import { conclude } from '../../../core/topology/conclude';
import type { Store } from '../../../store/base/database';
import type { FactText } from '../../../store/base/facts';
import { programBeside } from '../../beside/programBeside';
import { earlierPlaces, readKnownEstate, type WrittenConclusion } from '../conclusion';
import type { ConclusionWork, FromConclusion } from './conclusionMessages';

/** Fewer devices are concluded sooner than a thread begins. */
const worthwhile = 100;
const patienceMs = 60_000;
/** Of what a conclusion makes most is soon done with: in a larger nursery it is gone before anybody has to carry it on. */
const resourceLimits = { maxYoungGenerationSizeMb: 128, maxOldGenerationSizeMb: 4096 };

/**
 * Conclusions from everything known, drawn in a thread of their own while this one stays awake; where there is much to write, attachments are made there and
 * written here at the same time.
 * @param here whether it is to be drawn in this thread however many devices there are
 * @param use takes the conclusion; its attachments come while it runs and are gone with it
 */
export async function concludeBeside(
  store: Store,
  surveyId: number,
  here: boolean,
  use: (conclusion: WrittenConclusion) => void,
): Promise<void> {
  const { devices } = store.raw.prepare<[], { devices: number }>('select count(*) as devices from device').get() ?? {
    devices: 0,
  };
  // where the sources run as they are, conclusions are drawn here
  const program = here || devices < worthwhile ? null : programBeside('conclusion');
  if (program === null) {
    const { attachments, ...rest } = conclude(readKnownEstate(store.db, surveyId), earlierPlaces(store.db));
    return use({ ...rest, attachments: texts(attachments) });
  }
  const { port1: near, port2: far } = new MessageChannel();
  const work: ConclusionWork = {
    folder: store.folder,
    surveyId,
    port: far,
    sent: new SharedArrayBuffer(4),
    taken: new SharedArrayBuffer(4),
  };
  const thread = new Worker(program, { workerData: work, transferList: [far], resourceLimits });
  try {
    await new Promise<void>((resolve, reject) => {
      thread.once('message', () => resolve());
      thread.once('error', reject);
      thread.once('exit', () => reject(new Error('the conclusions ended before they were drawn')));
    });
    const messages = received(work, near);
    const first = messages.next().value;
    if (first?.kind !== 'concluded') throw new Error('the conclusions came without their beginning');
    use({ links: first.links, portKinds: first.portKinds, attachments: attachmentsOf(messages) });
  } finally {
    near.close();
    await thread.terminate();
  }
}

function* texts(attachments: Iterable<{ mac: string }>): Generator<FactText> {
  for (const row of attachments) yield { key: row.mac, text: JSON.stringify(row) };
}

function* attachmentsOf(messages: Iterable<FromConclusion>): Generator<FactText> {
  for (const message of messages) {
    if (message.kind === 'end') return;
    if (message.kind === 'attachments') yield* message.rows;
  }
}

/** Messages as they are asked for, in the middle of a transaction: who asks waits. */
function* received({ sent, taken }: ConclusionWork, port: MessageChannel['port1']): Generator<FromConclusion> {
  const sentCount = new Int32Array(sent);
  const takenCount = new Int32Array(taken);
  for (let count = 0; ; count++) {
    while (Atomics.load(sentCount, 0) <= count) {
      if (Atomics.wait(sentCount, 0, count, patienceMs) === 'timed-out') throw new Error('the conclusions broke off');
    }
    const next = receiveMessageOnPort(port) as { message: FromConclusion } | undefined;
    if (!next) throw new Error('the conclusions broke off');
    Atomics.add(takenCount, 0, 1);
    Atomics.notify(takenCount, 0);
    yield next.message;
  }
}
