import { setImmediate as nextTurn } from 'node:timers/promises';
import { parentPort, workerData, type MessagePort } from 'node:worker_threads';
import { latestSealed } from '../../../store/base/sealedSurveys';
import { openToRead, type Store } from '../../../store/base/database';
import { tablesOf } from '../tables/estateTables';
import { answers, exportParts } from './answers';
import { tellError, type FromTables, type ToTables } from './messages';

/** Answers questions about the whole estate beside the process that talks to browsers, and reads ahead whenever a survey was sealed. */
const { folder } = workerData as { folder: string };
const parent = parentPort;
if (!parent) throw new Error('a thread of tables has no life of its own');
const store = openToRead(folder);
const lookAgainMs = 1000;
const tell = (message: FromTables) => parent.postMessage(message);

/** Answers whoever asks at a port: the process that talks to browsers, and threads of its. */
function serve(asker: Pick<MessagePort, 'postMessage' | 'on'>): void {
  const exports = new Map<number, AsyncGenerator<string | Buffer>>();
  const reply = (message: FromTables) => asker.postMessage(message);

  async function tellPart(number: number): Promise<void> {
    const next = await exports.get(number)?.next();
    if (!next || next.done) {
      exports.delete(number);
      return reply({ number, part: null });
    }
    reply({ number, part: next.value });
  }

  async function answer(message: ToTables): Promise<void> {
    if (message.kind === 'port') return serve(message.port);
    const { number } = message;
    try {
      switch (message.kind) {
        case 'question':
          if (message.name === 'find' && Number(message.with[0]) > read) await readNewest();
          return reply({
            number,
            answer: (answers[message.name] as (store: Store, ...rest: unknown[]) => unknown)(store, ...message.with),
          });
        case 'export':
          exports.set(number, exportParts(store, message.export));
          return await tellPart(number);
        case 'next':
          return await tellPart(number);
        case 'stop':
          await exports.get(number)?.return(undefined);
          exports.delete(number);
      }
    } catch (error) {
      exports.delete(number);
      reply({ number, error: tellError(error) });
    }
  }

  asker.on('message', (message: ToTables) => void answer(message));
}
serve(parent);

/** Questions that came meanwhile are answered between two steps. */
async function readAhead(survey: number): Promise<void> {
  if (survey === 0) return;
  for (const _ of tablesOf(store).readAhead(survey)) {
    tell({ beat: true });
    await nextTurn();
  }
  // what the first pages ask for
  for (const ask of [() => answers.today(store, survey, null), () => answers.mapData(store, survey, null, null)]) {
    ask();
    tell({ beat: true });
    await nextTurn();
  }
}

let read = 0;
let reading: Promise<void> | null = null;

/** Whoever looks for anything before all of it was read waits for that, and lets others ask meanwhile. */
function readNewest(): Promise<void> {
  const latest = latestSealed(store.db);
  if (latest === read) return Promise.resolve();
  return (reading ??= readAhead(latest)
    .then(() => {
      read = latest;
      if (latest > 0) tell({ read: latest });
    })
    .finally(() => {
      reading = null;
    }));
}

async function keepReading(): Promise<never> {
  for (;;) {
    tell({ beat: true });
    await readNewest();
    await new Promise((resolve) => setTimeout(resolve, lookAgainMs));
  }
}

// a thread that answers but reads nothing ahead any more would be half a thread: it ends, and is begun again
keepReading().catch((error: unknown) => {
  console.error('reading ahead:', error);
  process.exit(1);
});
