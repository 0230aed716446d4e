import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { home } from './program';

const drawer = path.join(home, '.tmp/samples');
/** What a surveyed sample follows from: where one letter of it changes, all are made anew. */
const sources = ['src/core', 'src/collect', 'src/store', 'src/sim', 'signatures', 'catalogue', 'e2e/support'];
const lookAgainMs = 100;

/** Where a folder lies that is made once for all suites, also those that run beside this one. @param make fills it */
export async function madeOnce(what: string, make: (folder: string) => Promise<void>): Promise<string> {
  const place = path.join(drawer, `${fingerprint()}-${hashOf(what)}`);
  while (!existsSync(place)) {
    const lock = lockFor(place);
    if (!lock) {
      await new Promise((resolve) => setTimeout(resolve, lookAgainMs));
      continue;
    }
    try {
      if (existsSync(place)) break;
      const making = mkdtempSync(`${place}-making-`);
      await make(making);
      renameSync(making, place);
    } finally {
      rmSync(lock, { recursive: true, force: true });
    }
  }
  return place;
}

/** A folder that only one process can have made; null where another one that lives has it. */
function lockFor(place: string): string | null {
  const lock = `${place}-lock`;
  mkdirSync(drawer, { recursive: true });
  try {
    mkdirSync(lock);
    writeFileSync(path.join(lock, 'pid'), String(process.pid));
    return lock;
  } catch {
    if (!isHeld(lock)) rmSync(lock, { recursive: true, force: true });
    return null;
  }
}

function isHeld(lock: string): boolean {
  try {
    const pid = Number(readFileSync(path.join(lock, 'pid'), 'utf8'));
    // made a moment ago, and not signed yet
    if (!pid) return true;
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ENOENT';
  }
}

let known: string | null = null;
function fingerprint(): string {
  if (known) return known;
  const hash = createHash('sha256');
  for (const source of sources) {
    for (const name of readdirSync(path.join(home, source), { recursive: true, encoding: 'utf8' }).sort()) {
      if (/\.test\.ts$/.test(name) || !/\.(ts|json|sql)$/.test(name)) continue;
      hash.update(name).update(readFileSync(path.join(home, source, name)));
    }
  }
  return (known = hash.digest('hex').slice(0, 12));
}

const hashOf = (text: string) => createHash('sha256').update(text).digest('hex').slice(0, 12);
