import { and, desc, eq, gt, inArray, isNull, sql } from 'drizzle-orm';
import { sameValue, type EditChange } from '../../core/edits/edit';
import { inTransaction, type Db } from '../base/database';
import { edit, editChange } from '../base/schema';
import { recordAct } from '../audit';
import type { Editable } from './editable';

export interface EditToWrite<Value> {
  who: string;
  /** what was done, for the record of acts: `changed a contract` */
  act: string;
  /** to what, in a line */
  words: string;
  changes: readonly EditChange<Value>[];
  /** up to which edit whoever writes had seen what stands there; without it what is written over is not looked at */
  seen?: number | null;
}

/** A value that is not any more what it was when somebody began to write it. */
export interface StaleValue {
  key: string;
  field: string;
  called: string;
  /** what would have been written, and what stands there instead */
  mine: unknown;
  now: unknown;
  /** who wrote it, and when; empty where that is not known */
  who: string;
  at: string;
}

/** Somebody wrote meanwhile: nothing is written. */
export class StaleEditError extends Error {
  override name = 'StaleEditError';
  constructor(
    readonly stale: readonly StaleValue[],
    /** the last edit: whoever has looked at what is told here has seen it */
    readonly version: number,
  ) {
    super(staleWords(stale));
  }
}

function staleWords([first, ...others]: readonly StaleValue[]): string {
  const whom = first?.who ? ` by ${first.who}` : '';
  const more = others.length === 0 ? '' : `, and ${others.length} more`;
  return `${first?.called ?? 'It'} was changed meanwhile${whom}${more}`;
}

/** The number of the last edit: what was read before it was asked for may be older, what is read after it is not. */
export const editVersion = (db: Db): number => lastEdit(db, []);

/** Grows with everything that is written of some kinds. */
export const editStamp = (db: Db, ...kinds: string[]): number => lastEdit(db, kinds);

const lastEdit = (db: Db, kinds: string[]): number =>
  db
    .select({ last: sql<number>`coalesce(max(${edit.id}), 0)` })
    .from(edit)
    .where(kinds.length > 0 ? inArray(edit.kind, kinds) : undefined)
    .get()?.last ?? 0;

/**
 * Writes values, all or none, and what is told of it, in one transaction.
 * @returns the number of the edit and the keys of what was written
 * @throws StaleEditError where one is not any more what it was, EditRefused where one cannot be as it is written
 */
export function writeEdit<Value>(
  db: Db,
  editable: Editable<Value>,
  { who, act, words, changes, seen = null }: EditToWrite<Value>,
  now = new Date(),
): { edit: number; keys: string[] } {
  return inTransaction(db, () => {
    const stale = staleAmong(db, editable, changes, seen);
    if (stale.length > 0) throw new StaleEditError(stale, editVersion(db));
    const keys = editable.write(db, changes);
    const row = { at: now.toISOString(), who, kind: editable.kind, act, words };
    const { id: editId } = db.insert(edit).values(row).returning({ id: edit.id }).get();
    changes.forEach(({ field = '', before, after: given }, at) => {
      const key = keys[at] ?? '';
      const after = editable.readsBack && given !== null ? editable.read(db, key, field) : given;
      db.insert(editChange).values({ editId, key, field, before, after }).run();
    });
    recordAct(db, who, act, words);
    return { edit: editId, keys };
  });
}

/** Whether what stands there is what a change starts from. */
export function isAsBefore<Value>(db: Db, editable: Editable<Value>, change: EditChange<Value>): boolean {
  const { key, field = '', before } = change;
  const current = key === null ? null : editable.read(db, key, field);
  return sameOf(editable, current, before);
}

function sameOf<Value>(editable: Editable<Value>, one: Value | null, other: Value | null): boolean {
  if (one === null || other === null) return one === other;
  return (editable.same ?? sameValue)(one, other);
}

function staleAmong<Value>(
  db: Db,
  editable: Editable<Value>,
  changes: readonly EditChange<Value>[],
  seen: number | null,
): StaleValue[] {
  const since = seen === null ? null : writtenSince(db, editable.kind, seen);
  return changes.flatMap((change) => {
    const { key, field = '', before, after } = change;
    if (key === null) return [];
    const unseen = since?.has(`${key}\n${field}`) === true;
    if (!unseen && isAsBefore(db, editable, change)) return [];
    const current = editable.read(db, key, field);
    // two that write the same do not stand in each other's way
    if (unseen && sameOf(editable, current, after)) return [];
    const last = lastChange(db, editable.kind, key, field);
    const value = current ?? after ?? before;
    const called = value === null ? key : editable.called(value, key, field);
    return [{ key, field, called, mine: after, now: current, who: last?.who ?? '', at: last?.at ?? '' }];
  });
}

/** What was written after an edit. */
function writtenSince(db: Db, kind: string, seen: number): Set<string> {
  const rows = db
    .select({ key: editChange.key, field: editChange.field })
    .from(editChange)
    .innerJoin(edit, eq(editChange.editId, edit.id))
    .where(and(eq(edit.kind, kind), gt(editChange.editId, seen)))
    .all();
  return new Set(rows.map(({ key, field }) => `${key}\n${field}`));
}

function lastChange(db: Db, kind: string, key: string, field: string): { who: string; at: string } | undefined {
  return db
    .select({ who: edit.who, at: edit.at })
    .from(editChange)
    .innerJoin(edit, eq(editChange.editId, edit.id))
    .where(and(eq(editChange.key, key), eq(editChange.field, field), eq(edit.kind, kind)))
    .orderBy(desc(edit.id))
    .limit(1)
    .get();
}

/** An edit that was not taken back yet, with what it changed. */
export function editToUndo(
  db: Db,
  id: number,
): { kind: string; who: string; words: string; changes: EditChange[] } | null {
  const found = db
    .select({ kind: edit.kind, who: edit.who, words: edit.words })
    .from(edit)
    .where(and(eq(edit.id, id), isNull(edit.undoneBy)))
    .get();
  if (!found) return null;
  const changes = db
    .select({ key: editChange.key, field: editChange.field, before: editChange.before, after: editChange.after })
    .from(editChange)
    .where(eq(editChange.editId, id))
    .orderBy(sql`rowid`)
    .all();
  return { ...found, changes };
}

export function markUndone(db: Db, id: number, by: number): void {
  db.update(edit).set({ undoneBy: by }).where(eq(edit.id, id)).run();
}

/** A value as it was written once. */
export interface PastValue {
  at: string;
  who: string;
  field: string;
  before: unknown;
  after: unknown;
}

/** What was written of a thing, newest first. */
export function editHistory(db: Db, kind: string, key: string): PastValue[] {
  return db
    .select({
      at: edit.at,
      who: edit.who,
      field: editChange.field,
      before: editChange.before,
      after: editChange.after,
    })
    .from(editChange)
    .innerJoin(edit, eq(editChange.editId, edit.id))
    .where(and(eq(editChange.key, key), eq(edit.kind, kind)))
    .orderBy(desc(edit.id))
    .all();
}
