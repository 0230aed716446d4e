import type { FileMistake } from '../../core/values/fileMistake';
import { invalid } from '../access/problem';
import { CsvError, type CsvFile } from './csvFile';
import { readTable } from './listFile';

/** A table that came in a request. @throws Problem with the line where it is no table */
export function csvInRequest(text: string, read: (text: string) => CsvFile = readTable): CsvFile {
  try {
    return read(text);
  } catch (error) {
    if (error instanceof CsvError) throw invalid([{ path: `line ${error.line}`, message: error.message }]);
    throw error;
  }
}

/** Mistakes of a file as those of a request. */
export const fileMistakes = (mistakes: readonly FileMistake[]): { path: string; message: string }[] =>
  mistakes.map(({ line, column, message }) => ({ path: [`line ${line}`, column].filter(Boolean).join(', '), message }));
