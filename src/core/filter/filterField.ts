/** How a field's values compare. */
export type FieldKind =
  | 'text'
  | 'number'
  | 'bytes'
  | 'bitsPerSecond'
  | 'seconds'
  | 'release'
  | 'address'
  | 'mac'
  | 'date'
  | 'boolean';

export interface FilterField {
  name: string;
  kind: FieldKind;
  /** its heading, by which it may be named too */
  label?: string;
  /** names it had before, by which it is still found */
  formerly?: string[];
  /** its values are of a short fixed list, so that a word without a field is held against the beginnings of their words: “ring” is not looked for in “answering” */
  listed?: boolean;
  /** it names another thing, which a word without a field would find in place of that thing itself */
  ofOther?: boolean;
  /** its values are names out of code and shown in words: `access-point` as “access point” */
  isSpoken?: boolean;
  /** it counts something: how many there are */
  addsUp?: boolean;
  /** its values that a cell shows by other words, with these */
  shownAs?: Record<string, string[]>;
}

const foundByAccident = new Set<FieldKind>(['bytes', 'bitsPerSecond', 'seconds', 'date', 'boolean']);

/** What a word without a field is looked for in: sizes, speeds, ages, days and yes or no are shown otherwise than they are kept, and counts have any digits, so that they would be found by accident. */
export const searchedAnywhere = ({ kind, ofOther = false, addsUp = false }: FilterField): boolean =>
  !ofOther && !addsUp && !foundByAccident.has(kind);
