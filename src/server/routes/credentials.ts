import * as yup from 'yup';
import { readCredential } from '../../core/estate/credentialSchema';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { listCredentials, saveCredential } from '../../store/settings';

/** Names, kinds, users and protocols: nothing that opens a device. */
export const GET = route('operator', null, ({ store }) => {
  const rows = listCredentials(store.db);
  return { rows, total: rows.length };
});

export const POST = route('administrator', yup.mixed().required() as yup.Schema<unknown>, ({ store, person, body }) => {
  const read = readCredential(body);
  if ('mistakes' in read) throw invalid(read.mistakes);
  saveCredential(store, read.credential);
  recordAct(store.db, person.name, 'saved a credential', read.credential.name);
  return { name: read.credential.name };
});
