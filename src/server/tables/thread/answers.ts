import type { ThingName } from '../../../core/things/fields';
import { tableParts, type TableFormat } from '../../../deliver/table';
import type { Store } from '../../../store/database';
import { things } from '../../../core/things/fields';
import { contractRow } from '../../things/contract';
import { deviceDossier } from '../../things/dossier';
import { eachRow, findRows, queryThing, thingRow, type RowsWanted } from '../../things/query';
import { today } from '../../today';

/** Questions about the whole estate: what they cost grows with it, so that the process that talks to browsers leaves them to a thread. */
export const answers = { query: queryThing, dossier: deviceDossier, row: thingRow, today };
export type Answers = typeof answers;
export type Question = keyof Answers;
type Rest<List extends unknown[]> = List extends [unknown, ...infer Tail] ? Tail : never;
export type Arguments<Name extends Question> = Rest<Parameters<Answers[Name]>>;

export interface Export {
  thing: ThingName;
  wanted: RowsWanted;
  format: TableFormat;
  columns: string[] | undefined;
}

/** A table as a file, in parts as they are made. @throws FilterError, SortError before the first part */
export function exportParts(store: Store, { thing, wanted, format, columns }: Export): AsyncGenerator<string | Buffer> {
  const rows = findRows(store, thing, wanted);
  return tableParts(format, { *[Symbol.iterator]() { for (const row of eachRow(rows)) yield contractRow(thing, row, columns); } }, things[thing].title);
}
