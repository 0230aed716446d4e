import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { completeRelease, type ToldRelease } from '../core/firmware/catalogue';
import type { Signature } from '../core/signatures/signature';
import { programFolder, type Store } from './base/database';
import { addRelease, readCatalogue } from './catalogue';

/** JSON files of a folder of the program, and of the same folder beside the data, where a person adds their own. */
export function jsonFiles(name: string, dataFolder: string): { file: string; content: unknown }[] {
  return [path.join(programFolder(), name), path.join(dataFolder, name)]
    .filter((folder) => existsSync(folder))
    .flatMap((folder) =>
      readdirSync(folder)
        .filter((file) => file.endsWith('.json'))
        .sort()
        .map((file) => path.join(folder, file)),
    )
    .map((file) => {
      try {
        return { file, content: JSON.parse(readFileSync(file, 'utf8')) as unknown };
      } catch (error) {
        throw new Error(`${file} is no JSON: ${(error as Error).message}`, { cause: error });
      }
    });
}

/** All signatures; one of a person with the same id takes the place of the program's. */
export function readSignatures(dataFolder: string): Signature[] {
  const byId = new Map<string, Signature>();
  for (const { file, content } of jsonFiles('signatures', dataFolder)) {
    const signature = content as Signature;
    if (typeof signature.id !== 'string' || typeof signature.order !== 'number' || typeof signature.match !== 'object')
      throw new Error(`${file} is no signature: it needs id, order and match`);
    byId.set(signature.id, signature);
  }
  return [...byId.values()];
}

/** Keeps a person's own signature beside the data. It is written whole or not at all. */
export function saveSignature(dataFolder: string, signature: Signature): void {
  const folder = path.join(dataFolder, 'signatures');
  mkdirSync(folder, { recursive: true });
  const file = path.join(folder, `${signature.id}.json`);
  writeFileSync(`${file}.new`, `${JSON.stringify(signature, null, 2)}\n`);
  renameSync(`${file}.new`, file);
}

/** Puts the catalogue's data files into an empty catalogue. */
export function seedCatalogue(store: Store): void {
  if (readCatalogue(store.db).length > 0) return;
  for (const { content } of jsonFiles('catalogue', store.folder))
    for (const release of content as ToldRelease[]) addRelease(store.db, completeRelease(release));
}

/** The version of this program, as its package file has it. */
export function programVersion(): string {
  return (JSON.parse(readFileSync(path.join(programFolder(), 'package.json'), 'utf8')) as { version: string }).version;
}
