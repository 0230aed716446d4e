import { parentPort } from 'node:worker_threads';
import { webStore } from '../access/store';
import { answerRequest } from '../api/answer';
import { answerTablesThrough } from '../query/thread/tableAnswers';
import type { FromBeside, ToBeside } from './messages';

/** Answers requests that may take long: through the same gate, beside the thread that answers everybody. */
const parent = parentPort;
if (!parent) throw new Error('a thread of long work has no life of its own');
const through = answerTablesThrough(webStore());

parent.on('message', (message: ToBeside) => {
  if (message.kind === 'tables') through.use(message.port);
  else void answer(message);
});

async function answer({ number, method, url, headers, body }: ToBeside & { kind: 'request' }): Promise<void> {
  const hasBody = body !== null && method !== 'GET' && method !== 'HEAD';
  const response = await answerRequest(
    new Request(url, { method, headers, ...(hasBody && { body: body as BodyInit }) }),
  );
  const told: FromBeside = {
    number,
    status: response.status,
    headers: [...response.headers],
    body: new Uint8Array(await response.arrayBuffer()),
  };
  parent?.postMessage(told);
}
