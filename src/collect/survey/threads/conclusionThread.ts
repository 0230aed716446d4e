import { parentPort, workerData } from 'node:worker_threads';
import { conclude } from '../../../core/topology/conclude';
import { openToRead } from '../../../store/base/database';
import { earlierPlaces, readKnownEstate } from '../conclusion';
import type { ConclusionWork, FromConclusion } from './conclusionMessages';

/** Draws the conclusions beside the thread that writes them down: it reads what is known, concludes, and hands on attachments, some thousand at a time. */
const { folder, surveyId, port, sent, taken } = workerData as ConclusionWork;
const attachmentsAtOnce = 2000;
/** More than so many hand-overs that nobody took would only fill the memory. */
const mostWaiting = 4;

const sentCount = new Int32Array(sent);
const takenCount = new Int32Array(taken);

function tell(message: FromConclusion): void {
  port.postMessage(message);
  Atomics.add(sentCount, 0, 1);
  Atomics.notify(sentCount, 0);
}

const store = openToRead(folder);
try {
  const { links, portKinds, attachments } = conclude(readKnownEstate(store.db, surveyId), earlierPlaces(store.db));
  tell({ kind: 'concluded', links, portKinds });
  parentPort?.postMessage('concluded');
  let rows: { key: string; text: string }[] = [];
  const handOver = () => {
    for (
      let seen = Atomics.load(takenCount, 0);
      Atomics.load(sentCount, 0) - seen > mostWaiting;
      seen = Atomics.load(takenCount, 0)
    )
      Atomics.wait(takenCount, 0, seen);
    tell({ kind: 'attachments', rows });
    rows = [];
  };
  for (const attachment of attachments) {
    rows.push({ key: attachment.mac, text: JSON.stringify(attachment) });
    if (rows.length === attachmentsAtOnce) handOver();
  }
  handOver();
  tell({ kind: 'end' });
} finally {
  store.close();
}
