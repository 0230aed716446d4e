import type { EditChange } from '../../core/edits/edit';
import type { FileMistake } from '../../core/values/fileMistake';
import type { Store } from '../../store/base/database';
import type { PersonRole } from '../../core/people/roles';
import type { Editable } from '../../store/edits/editable';
import type { CsvFile } from './csvFile';

/** A line of a table that comes in. */
export interface FileLine {
  line: number;
  cells: string[];
}

/** What a file would make, as it is shown before anything is written. */
export interface FileTold {
  /** things the file names, those among them that are new, and that become other than they are */
  named: number;
  added: number;
  changed: number;
  /** named, and so already; null where the file names rows and not what is written at them */
  same: number | null;
  /** headings of the first cells of each change */
  columns: string[];
  /** what changes, the first of many */
  changes: {
    cells: string[];
    isNew: boolean;
    differs: { field: string; before: string; after: string }[];
  }[];
  /** what is worth knowing, though it is no mistake */
  notes: string[];
  /** columns that say nothing here */
  passedOver: string[];
  mistakes: FileMistake[];
}

export interface PlannedFile {
  told: FileTold;
  changes: EditChange[];
  /** what is written, in a line */
  words: string;
}

export interface ImportColumn {
  name: string;
  isNeeded: boolean;
  about: string;
}

/** What can come in as a table: what its columns are, and what a file of it would change. */
export interface ImportDomain {
  /** in addresses and on the command line */
  name: string;
  title: string;
  /** one of what comes in, and several: `contract`, `contracts` */
  one: string;
  many: string;
  /** what a line is, and what becomes of what is named and what is not */
  about: string;
  columns: ImportColumn[] | ((store: Store) => ImportColumn[]);
  /** how its files are read, where they are no tables and no lists. @throws CsvError */
  read?: (text: string) => CsvFile;
  /** what files there are, for people: `a CSV file, JSON or YAML` where it is not said */
  files?: string;
  /** where what there is now can be had in the same columns; empty for nowhere */
  now: string;
  /** who may take it in, where that is not every operator */
  role?: PersonRole;
  editable: Editable<unknown>;
  /** for the record of acts */
  act: string;
  plan: (store: Store, survey: number, head: string[], lines: FileLine[], file: string) => PlannedFile;
}

/** How many changes are told one by one. */
export const shownChanges = 200;

/** What an import did, in a line for the list of what was done. */
export const importWords = ({ added, changed }: Pick<FileTold, 'added' | 'changed'>, file: string): string =>
  `${[added > 0 && `${added} new`, changed > 0 && `${changed} changed`].filter(Boolean).join(', ')} from ${file}`;
