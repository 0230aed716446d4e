import { and, asc, count, desc, eq, inArray, lt, notInArray, or, sql, type SQL } from 'drizzle-orm';
import { reversed } from '../../core/edits/edit';
import type { Db } from '../base/database';
import { edit } from '../base/schema';
import type { Editable } from './editable';
import { editToUndo, isAsBefore } from './log';

export interface KeptEdit {
  id: number;
  at: string;
  who: string;
  kind: string;
  words: string;
  /** the edit that took it back */
  undoneBy: number | null;
  /** how many values it wrote */
  values: number;
}

export interface EditsWanted {
  kinds: readonly string[];
  /** only by this person */
  who?: string | null;
  /** words that must be in it */
  text?: string;
  /** kinds of which only what one person wrote is told */
  alone?: { kinds: readonly string[]; who: string };
}

const nobody = { kinds: [], who: '' };

/** Edits that took others back are told with these. */
const isNoUndo = (db: Db) =>
  notInArray(
    edit.id,
    db
      .select({ id: sql<number>`undone_by` })
      .from(edit)
      .where(sql`undone_by is not null`),
  );

const fitting = (db: Db, { kinds, who = null, text = '', alone = nobody }: EditsWanted): (SQL | undefined)[] => [
  inArray(edit.kind, [...kinds]),
  isNoUndo(db),
  or(notInArray(edit.kind, [...alone.kinds]), eq(edit.who, alone.who)),
  who === null ? undefined : eq(edit.who, who),
  // a scrap as it stands: % and _ are letters of it
  text === '' ? undefined : sql`instr(lower(${edit.words}), lower(${text})) > 0`,
];

/** Edits that fit, newest first, some of them, and how many there are in all. @param before only those older than this one */
export function recentEdits(
  db: Db,
  { before = null, most, ...wanted }: EditsWanted & { before?: number | null; most: number },
): { rows: KeptEdit[]; total: number } {
  const fits = fitting(db, wanted);
  const rows = db
    .select({
      id: edit.id,
      at: edit.at,
      who: edit.who,
      kind: edit.kind,
      words: edit.words,
      undoneBy: edit.undoneBy,
      values: sql<number>`(select count(*) from edit_change where edit_id = ${edit.id})`,
    })
    .from(edit)
    .where(and(...fits, before === null ? undefined : lt(edit.id, before)))
    .orderBy(desc(edit.id))
    .limit(most)
    .all();
  const total = db
    .select({ total: count() })
    .from(edit)
    .where(and(...fits))
    .get();
  return { rows, total: total?.total ?? 0 };
}

/** Who wrote any of them. */
export const writersOf = (db: Db, { kinds, alone = nobody }: Pick<EditsWanted, 'kinds' | 'alone'>): string[] =>
  db
    .selectDistinct({ who: edit.who })
    .from(edit)
    .where(and(...fitting(db, { kinds, alone })))
    .orderBy(asc(edit.who))
    .all()
    .map(({ who }) => who);

/** How many values of an edit still stand as it wrote them: so many can be taken back. */
export function standingValues(db: Db, editables: readonly Editable<unknown>[], id: number): number {
  const known = editToUndo(db, id);
  const editable = editables.find(({ kind }) => kind === known?.kind);
  if (!known || !editable) return 0;
  return reversed(known.changes).filter((change) => isAsBefore(db, editable, change)).length;
}
