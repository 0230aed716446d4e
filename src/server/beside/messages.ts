import type { MessagePort } from 'node:worker_threads';

/** To the thread: where tables are answered, or a request. */
export type ToBeside =
  | { kind: 'tables'; port: MessagePort }
  | {
      kind: 'request';
      number: number;
      method: string;
      url: string;
      headers: [string, string][];
      body: Uint8Array | null;
    };

/** From the thread: an answer as it goes to whoever asked. */
export interface FromBeside {
  number: number;
  status: number;
  headers: [string, string][];
  body: Uint8Array;
}
