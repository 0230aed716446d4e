import { columnOf } from '../../core/signatures/privateAnswers';
import type { Reading } from '../../core/signatures/reading';
import type { Signature } from '../../core/signatures/signature';
import type { PartQuestions, TableQuestion } from './questions';

/** What a signature and a person want beside the standards; null where that is nothing. */
export function privateQuestions(signature: Signature | null, readings: Reading[] = []): PartQuestions | null {
  const instances = [...Object.values(signature?.objects ?? {}), ...(signature?.readings ?? []), ...readings].flatMap(
    ({ oid }) => oid ?? [],
  );
  const tables = [
    signature?.moduleMemory?.column,
    signature?.ports?.disabledBy?.column,
    signature?.ports?.watts?.column,
  ].flatMap((column) => (column === undefined ? [] : [columnQuestion(column)]));
  return instances.length > 0 || tables.length > 0 ? { instances, tables } : null;
}

function columnQuestion(name: string): TableQuestion {
  const { entry, column } = columnOf(name);
  return { entry, columns: [column] };
}
