import { contractWords } from '../../core/cover/contract';
import { sameContract } from '../../core/cover/planContracts';
import { readContracts, type KeptContract } from '../../store/contracts';
import { recordAct } from '../../store/people';
import type { Db } from '../../store/database';
import { notFound } from '../access/problem';
import { route } from '../access/route';
import { answerRow } from './thing';
import { contractOf, contractSchema, examinedContract, writtenContracts } from './contracts';

function contractNumbered(db: Db, id: string | undefined): KeptContract {
  const found = readContracts(db).find((contract) => String(contract.id) === id);
  if (!found) throw notFound(`contract ${id ?? ''}`);
  return found;
}

export const GET = route('viewer', null, ({ store, params, url }) =>
  answerRow(store, 'contracts', params.id ?? '', url),
);

export const PUT = route(
  'operator',
  contractSchema,
  ({ store, person, params, body }) => {
    const { id, ...before } = contractNumbered(store.db, params.id);
    const after = examinedContract(store.db, contractOf(body), id);
    if (sameContract(before, after)) return { id };
    const { edit } = writtenContracts(store.db, person.name, contractWords(after), [{ id, before, after }]);
    recordAct(store.db, person.name, 'changed a contract', contractWords(after));
    return { id, edit };
  },
  { largest: 4 * 1024 * 1024 },
);

export const DELETE = route('operator', null, ({ store, person, params }) => {
  const { id, ...before } = contractNumbered(store.db, params.id);
  const { edit } = writtenContracts(store.db, person.name, contractWords(before), [{ id, before, after: null }]);
  recordAct(store.db, person.name, 'deleted a contract', contractWords(before));
  return { id, edit };
});
