import type { MessagePort } from 'node:worker_threads';
import type { Conclusion } from '../../../core/topology/conclude';

/** What a conclusion thread is started with. */
export interface ConclusionWork {
  folder: string;
  surveyId: number;
  port: MessagePort;
  /** messages sent and messages taken so far, a 32-bit integer each: by them one side waits for the other */
  sent: SharedArrayBuffer;
  taken: SharedArrayBuffer;
}

/** From the thread: what is short as a whole, then attachments in the order of their MACs, each as it is to be kept. */
export type FromConclusion =
  | ({ kind: 'concluded' } & Pick<Conclusion, 'links' | 'portKinds'>)
  | { kind: 'attachments'; rows: { key: string; text: string }[] }
  | { kind: 'end' };
