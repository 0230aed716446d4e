'use client';

import { useQuery } from '@tanstack/react-query';
import type { FileMistake } from '@/core/values/fileMistake';
import { call, type ApiProblem } from '../../lib/api';

/** What can be taken from a file, and how such a file looks. */
export interface ImportDomain {
  name: string;
  title: string;
  one: string;
  many: string;
  about: string;
  columns: { name: string; isNeeded: boolean; about: string }[];
  now: string;
  /** how its files may be written, in words */
  files: string;
  edits: string;
}

/** What a file would change, or has changed where it has the number of an edit. */
export interface FileTold {
  named: number;
  added: number;
  changed: number;
  same: number | null;
  columns: string[];
  changes: { cells: string[]; isNew: boolean; differs: { field: string; before: string; after: string }[] }[];
  notes: string[];
  passedOver: string[];
  mistakes: FileMistake[];
  version: number;
  edit?: number;
}

export const useImports = () =>
  useQuery<ImportDomain[], ApiProblem>({
    queryKey: ['imports'],
    queryFn: async () => (await call<{ rows: ImportDomain[] }>('imports')).rows,
  });
