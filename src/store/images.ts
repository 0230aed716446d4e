import { lstatSync, mkdirSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import type { ImageFile } from '../core/firmware/image';
import { inTransaction, type Db } from './base/database';
import { imageFile } from './base/schema';

/** A file as the file system tells of it, without reading it. */
export interface FoundImage {
  name: string;
  bytes: number;
  /** when it was changed in any way, milliseconds since the epoch: a copy may keep the times of what it was made of, but not this one */
  changedAt: number;
}

export const imagesFolder = (dataFolder: string): string => path.join(dataFolder, 'images');

/** More files are no folder of images. */
const mostImages = 5000;

/** Files of the folder of images; links, folders and what begins with a dot are none. The folder is made where there is none. */
export function findImages(dataFolder: string): FoundImage[] {
  const folder = imagesFolder(dataFolder);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const found: FoundImage[] = [];
  for (const name of readdirSync(folder).sort().slice(0, mostImages)) {
    if (name.startsWith('.')) continue;
    const told = lstatSync(path.join(folder, name), { throwIfNoEntry: false });
    // one that was taken away meanwhile is none
    if (told?.isFile()) found.push({ name, bytes: told.size, changedAt: told.ctimeMs });
  }
  return found;
}

export const readImages = (db: Db): ImageFile[] =>
  db
    .select({ name: imageFile.name, bytes: imageFile.bytes, hash: imageFile.hash, mistake: imageFile.mistake })
    .from(imageFile)
    .orderBy(imageFile.name)
    .all();

/** What of the folder is not as it was when it was looked at last: files that are to be read, and names that are gone. */
export function changedImages(db: Db, found: readonly FoundImage[]): { toRead: FoundImage[]; gone: string[] } {
  const known = new Map(
    db
      .select()
      .from(imageFile)
      .all()
      .map((row) => [row.name, row]),
  );
  const toRead = found.filter(({ name, bytes, changedAt }) => {
    const own = known.get(name);
    return !own || own.bytes !== bytes || own.changedAt !== changedAt || (own.hash === '' && own.mistake === '');
  });
  const names = new Set(found.map(({ name }) => name));
  return { toRead, gone: [...known.keys()].filter((name) => !names.has(name)) };
}

/** Writes down what there is, with its hash once it is read. */
export function noteImage(db: Db, found: FoundImage, read: { hash: string; mistake: string }): void {
  const row = { ...found, ...read };
  db.insert(imageFile).values(row).onConflictDoUpdate({ target: imageFile.name, set: row }).run();
}

export function forgetImages(db: Db, names: readonly string[]): void {
  inTransaction(db, () => {
    for (const name of names) db.delete(imageFile).where(eq(imageFile.name, name)).run();
  });
}
