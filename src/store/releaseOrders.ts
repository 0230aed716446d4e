import path from 'node:path';
import { ReleaseOrder, type ReleaseScheme } from '../core/firmware/scheme';
import { schemeMistakes } from '../core/firmware/schemeSchema';
import { programFolder, type Db } from './base/database';
import { jsonFiles, readSignatures } from './programFiles';

/** A file of schemes that cannot be read, by its name. */
export interface SchemeMistake {
  file: string;
  words: string;
}

/** How releases are written, by the program's files and those of a person beside the data, in which order they are tried; and which of them cannot be read. */
export interface KnownSchemes {
  orders: ReleaseOrder[];
  mistakes: SchemeMistake[];
}

const known = new WeakMap<Db, KnownSchemes>();

/** Read once for a database. One of a person with the same id takes the place of the program's; those of persons are tried first. */
export function knownSchemes(db: Db): KnownSchemes {
  let found = known.get(db);
  if (!found) known.set(db, (found = schemesIn(path.dirname(db.$client.name))));
  return found;
}

export const releaseOrders = (db: Db): ReleaseOrder[] => knownSchemes(db).orders;

/** By signature: the scheme it says its releases are written by. */
export const signatureSchemes = (db: Db): ReadonlyMap<string, string> =>
  new Map(
    readSignatures(path.dirname(db.$client.name)).flatMap(({ id, scheme }) => (scheme ? [[id, scheme] as const] : [])),
  );

export function schemesIn(folder: string): KnownSchemes {
  const byId = new Map<string, ReleaseOrder>();
  const mistakes: KnownSchemes['mistakes'] = [];
  const own: string[] = [];
  for (const { file, content } of filesIn(folder, mistakes))
    for (const told of Array.isArray(content) ? (content as unknown[]) : [content]) {
      const wrong = schemeMistakes(told);
      const id = String((told as Partial<ReleaseScheme> | null)?.id ?? '');
      if (wrong.length > 0)
        mistakes.push({ file: path.basename(file), words: `${id ? `${id}: ` : ''}${wrong.join('; ')}` });
      else {
        byId.set(id, new ReleaseOrder(told as ReleaseScheme));
        if (path.dirname(file) === path.join(folder, 'schemes')) own.push(id);
      }
    }
  const all = [...byId].sort(([x], [y]) => Number(own.includes(y)) - Number(own.includes(x)));
  return { orders: all.map(([, order]) => order), mistakes };
}

/** Where one of a person is no JSON at all, those of the program hold. */
function filesIn(folder: string, mistakes: KnownSchemes['mistakes']): ReturnType<typeof jsonFiles> {
  try {
    return jsonFiles('schemes', folder);
  } catch (error) {
    mistakes.push({ file: 'schemes', words: (error as Error).message.replace(`${folder}${path.sep}`, '') });
    return jsonFiles('schemes', programFolder());
  }
}
