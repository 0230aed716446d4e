import type { EditChange } from '../../core/edits/edit';
import type { PersonRole } from '../people';
import type { Db } from '../base/database';

/** A kind of thing that people write, as the log of edits sees it. (Methods, so that a list may hold all of them.) */
export interface Editable<Value> {
  /** its name in the log and in addresses */
  kind: string;
  /** one of them in words: `contract` */
  one: string;
  many: string;
  /** who may write them, and so take back what was written */
  role: PersonRole;
  /** a value as it stands; null where there is none */
  read(db: Db, key: string, field: string): Value | null;
  /** Writes changes, each of which starts from what stands there. @returns their keys @throws EditRefused */
  write(db: Db, changes: readonly EditChange<Value>[]): string[];
  /** who alone may make a change that others who write such things may not, and why; null where there is nothing to it */
  onlyBy?(before: Value | null, after: Value | null): { role: PersonRole; path: string; why: string } | null;
  /** what a value is called */
  called(value: Value, key: string, field: string): string;
  /** whether two values say the same; as JSON where it is not said */
  same?(one: Value, other: Value): boolean;
  /** whether what is kept is another than what was given, so that it is read back for the log */
  readsBack?: boolean;
  /** the person whose it is alone */
  ownerOf?(value: Value): number;
}

/** What cannot be as it is written: its name is taken, something is built on it. */
export class EditRefused extends Error {
  override name = 'EditRefused';
  constructor(
    message: string,
    /** which of the values, where it is one */
    readonly key: string | null = null,
    /** the field of it that is at fault */
    readonly path = '',
    readonly title = 'Taken',
  ) {
    super(message);
  }
}

/** For things that are written one by one, whatever their order. */
export const oneByOne =
  <Value>(put: (db: Db, key: string | null, after: Value | null, before: Value | null) => string) =>
  (db: Db, changes: readonly EditChange<Value>[]): string[] =>
    changes.map(({ key, before, after }) => put(db, key, after, before));

/** The number that a key is, for things that are numbered; -1 for none. */
export const numberOf = (key: string): number => (/^\d{1,15}$/.test(key) ? Number(key) : -1);
