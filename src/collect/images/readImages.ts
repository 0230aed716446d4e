import { createHash } from 'node:crypto';
import { createReadStream, lstatSync } from 'node:fs';
import path from 'node:path';
import type { Store } from '../../store/base/database';
import { changedImages, findImages, forgetImages, imagesFolder, noteImage, type FoundImage } from '../../store/images';

const partBytes = 4 * 1024 * 1024;

/** SHA-256 of a file, read part by part. @throws Error where it cannot be read, or whoever wants it has gone */
export async function hashOf(file: string, signal?: AbortSignal): Promise<string> {
  const hash = createHash('sha256');
  const stream = createReadStream(file, { highWaterMark: partBytes, ...(signal && { signal }) });
  for await (const part of stream) hash.update(part as Buffer);
  return hash.digest('hex');
}

/** Who copies a file into the folder changes it all the while: it is read once it was left alone for so long. */
export const settledMs = 5000;

/** Images that are there and not read yet, and were left alone for long enough. */
export const settledImages = (found: readonly FoundImage[], now: number): FoundImage[] =>
  found.filter(({ changedAt }) => now - changedAt >= settledMs);

/** Looks at the folder of images, and reads what is new there. @returns how many were read */
export async function readNewImages({ db, folder }: Store, now: () => number, signal?: AbortSignal): Promise<number> {
  const { toRead, gone } = changedImages(db, findImages(folder));
  forgetImages(db, gone);
  // all are there before the first is read: of two gigabytes that takes a while
  for (const found of toRead) noteImage(db, found, { hash: '', mistake: '' });
  let read = 0;
  for (const found of settledImages(toRead, now())) {
    const file = path.join(imagesFolder(folder), found.name);
    const told = await hashOf(file, signal).then(
      (hash) => ({ hash, mistake: '' }),
      (error: unknown) => ({ hash: '', mistake: (error as Error).message }),
    );
    signal?.throwIfAborted();
    // what was changed while it was read is read again
    const after = lstatSync(file, { throwIfNoEntry: false });
    if (after?.size !== found.bytes || after.ctimeMs !== found.changedAt) continue;
    noteImage(db, found, told);
    read++;
  }
  return read;
}
