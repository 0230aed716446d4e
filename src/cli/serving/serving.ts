import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** How often whoever serves a data folder says so. */
export const servingMs = 1000;
const goneMs = 6000;

const servingFile = (folder: string): string => path.join(folder, 'serving.json');

/** Says that a data folder is served by this process. */
export function tellServing(folder: string, now = Date.now()): void {
  try {
    writeFileSync(servingFile(folder), JSON.stringify({ at: now, process: process.pid }), { mode: 0o600 });
  } catch (error) {
    // with a full disk nobody hears of it, and nothing else comes of that
    if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
  }
}

export const endServing = (folder: string): void => rmSync(servingFile(folder), { force: true });

/** Whether somebody serves a data folder now. */
export function isServed(folder: string, now = Date.now()): boolean {
  try {
    return now - (JSON.parse(readFileSync(servingFile(folder), 'utf8')) as { at: number }).at < goneMs;
  } catch {
    return false;
  }
}
