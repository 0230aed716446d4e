import type { ReceiverState } from './flowReceiver';
import type { DatagramLot } from './flowSocket';

/** With what a thread of flows begins. */
export interface FlowWork {
  folder: string;
  /** prefixes that are let in besides devices that are known */
  from: string[];
  /** how often what was counted is written */
  everyMs: number;
}

/** Datagrams; a moment to look around, write and tell; the last one of all. */
export type ToFlowThread = DatagramLot | 'look' | 'end';

export type FromFlowThread =
  | { ready: true }
  | { taken: number }
  | { state: ReceiverState; unwritten: number; givenUp: number }
  | { ended: true };
