import * as yup from 'yup';
import { contractKinds, contractMistakes, contractWords, partsByKind, type Contract } from '../../core/cover/contract';
import { readContracts, StaleContractError, writeContracts, type ContractWrite } from '../../store/contracts';
import { recordAct } from '../../store/people';
import type { Db } from '../../store/database';
import { line } from '../access/line';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { answerThing } from '../things/ask';

const day = yup.string().nullable();
export const contractSchema = yup
  .object({
    number: line('The number').required('A contract needs its number'),
    kind: yup
      .string()
      .oneOf(contractKinds, ({ value }) => `“${String(value)}” is none of ${contractKinds.join(', ')}`)
      .required(),
    supplier: line('The supplier'),
    level: line('The promise'),
    contact: line('Whom to call'),
    from: day,
    until: day,
    parts: yup.boolean(),
    note: yup.string(),
    serials: yup
      .array(yup.string().trim('has blanks at its ends').required('is empty'))
      .required('Say which serials it covers'),
  })
  .noUnknown();

/** A contract as it is kept, what was left out being empty. @throws Problem with each mistake at its field */
export function contractOf({
  number,
  kind,
  supplier = '',
  level = '',
  contact = '',
  from = null,
  until = null,
  parts,
  note = '',
  serials,
}: yup.InferType<typeof contractSchema>): Contract {
  const contract: Contract = {
    number,
    kind,
    supplier,
    level,
    contact,
    from: from || null,
    until: until || null,
    parts: parts ?? partsByKind(kind),
    note: note.trim(),
    serials,
  };
  const mistakes = contractMistakes(contract);
  if (mistakes.length > 0) throw invalid(mistakes.map(({ field, message }) => ({ path: field, message })));
  return contract;
}

/** @throws Problem where another contract has the number */
export function examinedContract(db: Db, contract: Contract, id: number | null): Contract {
  if (
    readContracts(db).some((other) => other.id !== id && other.number.toLowerCase() === contract.number.toLowerCase())
  )
    throw invalid([{ path: 'number', message: `There is a contract “${contract.number}” already` }]);
  return contract;
}

/** @throws Problem where somebody was faster */
export function writtenContracts(
  db: Db,
  who: string,
  words: string,
  writes: ContractWrite[],
): { edit: number; ids: number[] } {
  try {
    return writeContracts(db, { who, words, writes });
  } catch (error) {
    if (error instanceof StaleContractError)
      throw new Problem(409, 'Changed meanwhile', `${error.message}: nothing was written. Look again and repeat.`, [
        { path: 'number', message: error.message },
      ]);
    throw error;
  }
}

export const GET = route('viewer', null, ({ store, url }) => answerThing(store, 'contracts', url.searchParams));

export const POST = route(
  'operator',
  contractSchema,
  ({ store, person, body }) => {
    const after = examinedContract(store.db, contractOf(body), null);
    const { edit, ids } = writtenContracts(store.db, person.name, contractWords(after), [{ before: null, after }]);
    recordAct(store.db, person.name, 'entered a contract', contractWords(after));
    return { id: ids[0], edit };
  },
  { largest: 4 * 1024 * 1024 },
);
