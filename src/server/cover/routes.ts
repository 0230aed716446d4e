import * as yup from 'yup';
import { contractKinds, contractMistakes, contractWords, partsByKind, type Contract } from '../../core/cover/contract';
import { sameContract } from '../../core/cover/planContracts';
import {
  readContracts,
  recentContractEdits,
  StaleContractError,
  undoContracts,
  writeContracts,
  type ContractWrite,
  type KeptContract,
} from '../../store/contracts';
import type { Db } from '../../store/base/database';
import { recordAct } from '../../store/audit';
import { line } from '../access/line';
import { invalid, notFound, Problem } from '../access/problem';
import { megabytes, route } from '../api/route';
import { importWords } from './plannedContracts';
import { csvGiven, fileMistakes } from '../files/csvGiven';
import { newestSurvey } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const day = yup.string().nullable();
const noKind = ({ value }: { value?: unknown }) => `“${String(value)}” is none of ${contractKinds.join(', ')}`;
const contractSchema = yup
  .object({
    number: line('The number').required('A contract needs its number'),
    kind: yup.string().oneOf(contractKinds, noKind).required(),
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
const importSchema = yup
  .object({ csv: yup.string().required('The file is empty'), name: yup.string().max(200), preview: yup.boolean() })
  .noUnknown();
const largest = megabytes(4);
const shownEdits = 20;

/** Contracts, warranties and licences: who mends what, until when. */
export const coverRoutes = [
  route({
    method: 'POST',
    path: '/contracts',
    role: 'operator',
    summary: 'Enter a contract',
    body: contractSchema,
    largest,
    run: ({ store, person, body }) => {
      const after = examinedContract(store.db, contractOf(body), null);
      const { edit, ids } = writtenContracts(store.db, person.name, contractWords(after), [{ before: null, after }]);
      recordAct(store.db, person.name, 'entered a contract', contractWords(after));
      return { id: ids[0] ?? 0, edit };
    },
  }),
  route({
    method: 'PUT',
    path: '/contracts/{id}',
    role: 'operator',
    summary: 'Change a contract',
    body: contractSchema,
    largest,
    run: ({ store, person, params, body }): { id: number; edit?: number } => {
      const { id, ...before } = contractNumbered(store.db, params.id);
      const after = examinedContract(store.db, contractOf(body), id);
      if (sameContract(before, after)) return { id };
      const { edit } = writtenContracts(store.db, person.name, contractWords(after), [{ id, before, after }]);
      recordAct(store.db, person.name, 'changed a contract', contractWords(after));
      return { id, edit };
    },
  }),
  route({
    method: 'DELETE',
    path: '/contracts/{id}',
    role: 'operator',
    summary: 'Delete a contract',
    run: ({ store, person, params }) => {
      const { id, ...before } = contractNumbered(store.db, params.id);
      const { edit } = writtenContracts(store.db, person.name, contractWords(before), [{ id, before, after: null }]);
      recordAct(store.db, person.name, 'deleted a contract', contractWords(before));
      return { id, edit };
    },
  }),
  route({
    method: 'POST',
    path: '/contracts/imports',
    role: 'operator',
    summary: 'Take contracts from a CSV file; nothing is taken if a line has a mistake',
    body: importSchema,
    largest: megabytes(16),
    run: async ({ store, person, body }) => {
      const file = csvGiven(body.csv);
      const { told, writes } = await tableAnswers(store).ask(
        'plannedContracts',
        newestSurvey(store),
        file.head,
        file.lines,
      );
      const answer: typeof told & { edit?: number } = told;
      if (body.preview) return answer;
      if (told.mistakes.length > 0)
        throw invalid(fileMistakes(told.mistakes), 'Nothing was taken: the file has mistakes.');
      if (writes.length === 0) return answer;
      const words = importWords(told, body.name ?? 'a file');
      const { edit } = writtenContracts(store.db, person.name, words, writes);
      recordAct(store.db, person.name, 'took contracts from a file', words);
      return { ...answer, edit };
    },
  }),
  route({
    method: 'GET',
    path: '/contracts/edits',
    role: 'operator',
    summary: 'Writings of contracts, newest first',
    run: ({ store }) => {
      const rows = recentContractEdits(store.db, shownEdits);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/contracts/edits/{id}/undo',
    role: 'operator',
    summary: 'Take a writing of contracts back; what was written over since stays',
    run: ({ store, person, params }) => {
      const undone = undoContracts(store.db, Number(params.id), person.name);
      if (!undone)
        throw new Problem(409, 'Nothing to take back', 'There is no such edit, or it was taken back already.');
      recordAct(store.db, person.name, 'took an edit of contracts back', `edit ${params.id}`);
      return { edit: undone.id, back: undone.back, stay: undone.stay };
    },
  }),
];

function contractNumbered(db: Db, id: string): KeptContract {
  const found = readContracts(db).find((contract) => String(contract.id) === id);
  if (!found) throw notFound(`contract ${id}`);
  return found;
}

/** A contract as it is kept, what was left out being empty. @throws Problem with each mistake at its field */
function contractOf(given: yup.InferType<typeof contractSchema>): Contract {
  const { number, kind, supplier = '', level = '', contact = '', from, until, parts, note = '', serials } = given;
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
function examinedContract(db: Db, contract: Contract, id: number | null): Contract {
  const same = (other: KeptContract) => other.id !== id && other.number.toLowerCase() === contract.number.toLowerCase();
  if (readContracts(db).some(same)) {
    throw invalid([{ path: 'number', message: `There is a contract “${contract.number}” already` }]);
  }
  return contract;
}

/** @throws Problem where somebody was faster */
function writtenContracts(
  db: Db,
  who: string,
  words: string,
  writes: ContractWrite[],
): { edit: number; ids: number[] } {
  try {
    return writeContracts(db, { who, words, writes });
  } catch (error) {
    if (!(error instanceof StaleContractError)) throw error;
    const { message } = error;
    throw new Problem(409, 'Changed meanwhile', `${message}: nothing was written. Look again and repeat.`, [
      { path: 'number', message },
    ]);
  }
}
