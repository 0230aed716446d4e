import { parentPort, workerData } from 'node:worker_threads';
import { Prefixes } from '../../core/values/prefixes';
import { parseTranslation, translatedFrom } from '../../core/values/translation';
import { openStore } from '../../store/base/database';
import { latestSealed } from '../../store/base/sealedSurveys';
import { isDiskFull, isLocked } from '../../store/base/storeFault';
import { listScopes } from '../../store/scopes';
import { deviceAddresses, listenersAt } from '../../store/listeners';
import type { FromFlowThread, FlowWork, ToFlowThread } from './flowMessages';
import { FlowReceiver } from './flowReceiver';
import { UnwrittenTalk } from './unwrittenTalk';

/** Counts what exporters send, and writes it down, beside the thread that takes datagrams from the system. */
const { folder, from, everyMs } = workerData as FlowWork;
const parent = parentPort;
if (!parent) throw new Error('a thread of flows has no life of its own');
const tell = (message: FromFlowThread) => parent.postMessage(message);
const lockMs = 30_000;

const store = openStore(folder, { waitMs: lockMs });
const receiver = new FlowReceiver();
const unwritten = new UnwrittenTalk();
const said = new Prefixes(from);
let known = -1;

/** Who is let in, and who serves where, as the newest survey tells. */
function look(): void {
  const newest = latestSealed(store.db);
  if (newest === known) return;
  known = newest;
  receiver.isListener = listenersAt(store.db, newest);
  const devices = deviceAddresses(store.db, newest);
  receiver.isLetIn = (address) => devices.has(address) || said.longestWith(address) !== null;
  const rules = listScopes(store.db).flatMap(({ scope }) => scope.translations.map(parseTranslation));
  receiver.knownAs = (address) => translatedFrom(address, rules);
}

/** Neither a full disk nor another writer ends it: what was counted waits for the next time. */
function write(): void {
  unwritten.add(receiver.taken());
  try {
    unwritten.write(store.db, new Date());
  } catch (error) {
    if (!isDiskFull(error) && !isLocked(error)) throw error;
    console.error('flows are not written yet:', (error as Error).message);
  }
}

let written = Date.now();
const tellState = () => tell({ state: receiver.state(), unwritten: unwritten.size, givenUp: unwritten.givenUp });

parent.on('message', (message: ToFlowThread) => {
  if (message === 'look') {
    look();
    if (Date.now() - written >= everyMs) {
      write();
      written = Date.now();
    }
    tellState();
  } else if (message === 'end') {
    write();
    tellState();
    store.close();
    tell({ ended: true });
  } else {
    let begin = 0;
    message.ends.forEach((end, nth) => {
      receiver.take(message.from[nth] ?? '', message.octets.subarray(begin, end));
      begin = end;
    });
    tell({ taken: message.octets.length });
  }
});
look();
tell({ ready: true });
