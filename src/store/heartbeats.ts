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

/** A loop that has not turned for so long hangs: none of them does anything that long at a turn. */
export const hangsMs = 90_000;

/**
 * The loop of an engine that does not turn any more, in words; null where all do.
 * @param since when the engine was started: it may need a while until it turns first
 */
export function stillLoop(
  beats: Heartbeats | null,
  { since, now, afterMs = hangsMs }: { since: number; now: number; afterMs?: number },
): string | null {
  const turned = Object.entries(beats?.turned ?? {});
  const oldest = turned.sort(([, one], [, other]) => one - other)[0];
  const last = Math.max(since, oldest?.[1] ?? 0);
  if (now - last <= afterMs) return null;
  const seconds = Math.round((now - last) / 1000);
  return oldest ? `${oldest[0]} turned last ${seconds} s ago` : `nothing was heard of it for ${seconds} s`;
}
