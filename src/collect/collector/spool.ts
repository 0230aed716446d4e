import {
  closeSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs';
import path from 'node:path';

export interface Spooled {
  file: string;
  body: Buffer;
}

const counted = /^(\d{10})\.delivery$/;

/**
 * What was collected and has not arrived at the server, on disk, oldest first. A file is there whole or not at all: it is written beside,
 * flushed, and then given its name.
 */
export class Spool {
  #next: number;

  constructor(readonly folder: string) {
    mkdirSync(path.join(folder, 'refused'), { recursive: true, mode: 0o700 });
    // what was cut short by a crash was never named
    for (const name of readdirSync(folder))
      if (name.endsWith('.part')) rmSync(path.join(folder, name), { force: true });
    this.#next = Math.max(0, ...this.#names().map((name) => Number(counted.exec(name)?.[1]))) + 1;
  }

  /** @throws where the disk is full; nothing is left behind then */
  add(body: Buffer): void {
    const file = path.join(this.folder, `${String(this.#next).padStart(10, '0')}.delivery`);
    const part = `${file}.part`;
    try {
      const descriptor = openSync(part, 'w', 0o600);
      try {
        for (let at = 0; at < body.length;) at += writeSync(descriptor, body, at);
        fsyncSync(descriptor);
      } finally {
        closeSync(descriptor);
      }
      renameSync(part, file);
    } catch (error) {
      rmSync(part, { force: true });
      throw error;
    }
    this.#next++;
  }

  oldest(): Spooled | null {
    const [name] = this.#names();
    if (name === undefined) return null;
    const file = path.join(this.folder, name);
    return { file, body: readFileSync(file) };
  }

  /** It has arrived. */
  remove({ file }: Spooled): void {
    rmSync(file, { force: true });
  }

  /** The server will never take it: kept aside for a person to look at. */
  refuse({ file }: Spooled): void {
    renameSync(file, path.join(this.folder, 'refused', `${Date.now()}-${path.basename(file)}`));
  }

  size(): { files: number; bytes: number } {
    const names = this.#names();
    return {
      files: names.length,
      bytes: names.reduce(
        (sum, name) => sum + (statSync(path.join(this.folder, name), { throwIfNoEntry: false })?.size ?? 0),
        0,
      ),
    };
  }

  #names(): string[] {
    return readdirSync(this.folder)
      .filter((name) => counted.test(name))
      .sort();
  }
}
