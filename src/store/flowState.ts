import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { ExporterState } from '../core/flow/flowDecoder';

/** What whoever hears exporters last said of itself. */
export interface FlowState {
  /** where it listens: `0.0.0.0:2055` */
  listens: string;
  /** when it said so, milliseconds since the epoch */
  at: number;
  exporters: ExporterState[];
  strangers: { address: string; datagrams: number }[];
  unreadable: number;
  lastFault: string;
  /** records that were too many to be counted */
  overflowed: number;
  /** conversations that were counted and are not written yet, and those that were given up because they could not be for long */
  unwritten?: number;
  givenUp?: number;
  /** datagrams that were dropped before they were read; null where the system does not tell */
  dropped: number | null;
}

/** Beside the database, not in it: what changes every second would make everybody look. */
const stateFile = (folder: string): string => path.join(folder, 'flows.json');

export function writeFlowState(folder: string, state: FlowState): void {
  const file = stateFile(folder);
  writeFileSync(`${file}.new`, JSON.stringify(state), { mode: 0o600 });
  renameSync(`${file}.new`, file);
}

/** Null where nobody was asked to hear exporters. */
export function readFlowState(folder: string): FlowState | null {
  try {
    return JSON.parse(readFileSync(stateFile(folder), 'utf8')) as FlowState;
  } catch {
    return null;
  }
}

export const forgetFlowState = (folder: string): void => rmSync(stateFile(folder), { force: true });
