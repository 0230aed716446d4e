import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** When each loop of the engine last turned, as it says itself. */
export interface Heartbeats {
  worker: string;
  /** by loop, in milliseconds since the epoch */
  turned: Record<string, number>;
}

/** Beside the database, not in it: a row a second would make everybody look whether something has changed. */
const heartbeatFile = (folder: string) => path.join(folder, 'engine.json');

export function writeHeartbeats(folder: string, beats: Heartbeats): void {
  const file = heartbeatFile(folder);
  writeFileSync(`${file}.new`, JSON.stringify(beats), { mode: 0o600 });
  renameSync(`${file}.new`, file);
}

/** What the engine last said of itself; null where it never did. */
export function readHeartbeats(folder: string): Heartbeats | null {
  try {
    return JSON.parse(readFileSync(heartbeatFile(folder), 'utf8')) as Heartbeats;
  } catch {
    return null;
  }
}
