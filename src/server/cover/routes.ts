import type * as yup from 'yup';
import { contractMistakes, contractWords, partsByKind, type Contract } from '../../core/cover/contract';
import { contractSchema } from '../../core/cover/contractSchema';
import { sameContract } from '../../core/cover/planContracts';
import { contractAlone, readContracts, type KeptContract } from '../../store/contracts';
import type { Db } from '../../store/base/database';
import { contractEdits } from '../../store/edits/contracts';
import { editVersion } from '../../store/edits/log';
import { invalid, notFound } from '../access/problem';
import { megabytes, route } from '../api/route';
import { written } from '../edits/written';

const largest = megabytes(4);

/** Contracts, warranties and licences: who mends what, until when. */
export const coverRoutes = [
  route({
    method: 'POST',
    path: '/contracts',
    role: 'operator',
    summary: 'Enter a contract',
    body: contractSchema,
    largest,
    versioned: true,
    run: (call) => {
      const after = contractOf(call.body);
      const changes = [{ key: null, before: null, after }];
      const { key, ...edit } = written(call, contractEdits, {
        act: 'entered a contract',
        words: contractWords(after),
        changes,
      });
      return { id: Number(key), ...edit };
    },
  }),
  route({
    method: 'PUT',
    path: '/contracts/{id}',
    role: 'operator',
    summary: 'Change a contract',
    body: contractSchema,
    largest,
    versioned: true,
    run: (call): { id: number; version: number; edit?: number } => {
      const { db } = call.store;
      const known = contractNumbered(db, call.params.id);
      const before = contractAlone(known);
      const after = contractOf(call.body);
      if (sameContract(before, after)) return { id: known.id, version: editVersion(db) };
      const changes = [{ key: String(known.id), before, after }];
      const words = contractWords(after);
      const { edit, version } = written(call, contractEdits, { act: 'changed a contract', words, changes });
      return { id: known.id, edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/contracts/{id}',
    role: 'operator',
    summary: 'Delete a contract',
    versioned: true,
    run: (call) => {
      const known = contractNumbered(call.store.db, call.params.id);
      const changes = [{ key: String(known.id), before: contractAlone(known), after: null }];
      const words = contractWords(known);
      const { edit, version } = written(call, contractEdits, { act: 'deleted a contract', words, changes });
      return { id: known.id, edit, version };
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
