import * as yup from 'yup';
import { addressOrNull } from '../../core/values/ipAddress';
import { notFound } from '../access/problem';
import { line } from '../access/line';
import { route } from '../access/route';
import { queueTest } from '../../store/jobs';
import { recordAct } from '../../store/people';
import { listCredentials } from '../../store/settings';

const testSchema = yup
  .object({
    address: line('The address')
      .required('Give an address to try it at')
      .test(
        'address',
        ({ value }) => `“${String(value)}” is not an IP address: write it like 10.72.4.1`,
        (value) => addressOrNull(value ?? '') !== null,
      ),
    scopeId: yup.number().integer().nullable().default(null),
  })
  .noUnknown();

/** Tries a credential at one address; the job it gives tells what came of it. */
export const POST = route('operator', testSchema, ({ store, person, params, body: { address, scopeId } }) => {
  const credential = listCredentials(store.db).find(({ id }) => id === Number(params.id));
  if (!credential) throw notFound(`credential ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'tried a credential', `${credential.name} at ${address}`);
  return {
    jobId: queueTest(store.db, {
      credentialId: credential.id,
      address: addressOrNull(address) ?? address,
      scopeId: scopeId ?? null,
    }),
  };
});
