import * as yup from 'yup';
import { credentialKinds, type Credential } from '../../core/estate/credential';
import { credentialSchema } from '../../core/estate/credentialSchema';
import { addressOrNull } from '../../core/values/ipAddress';
import { acceptOffered, changedCertificates } from '../../store/certificates';
import { queueJob, type CredentialTestBody } from '../../store/jobs';
import { recordAct } from '../../store/audit';
import {
  deleteCredential,
  listCredentials,
  restoreCredential,
  saveCredential,
  scopesTrying,
} from '../../store/credentials';
import { line } from '../access/line';
import { notFound, Problem } from '../access/problem';
import { route } from '../api/route';
import { schemaOf } from '../api/yupSchema';

const notAnAddress = ({ value }: { value?: unknown }) =>
  `“${String(value)}” is not an IP address: write it like 10.72.4.1`;
const testSchema = yup
  .object({
    address: line('The address')
      .required('Give an address to try it at')
      .test('address', notAnAddress, (value) => addressOrNull(value ?? '') !== null),
    scopeId: yup.number().integer().nullable().default(null),
  })
  .noUnknown();
const trustSchema = yup
  .object({ address: yup.string().required(), port: yup.number().integer().required() })
  .noUnknown();

/** With which credentials equipment is asked, and which certificates it shows. */
export const credentialRoutes = [
  route({
    method: 'GET',
    path: '/credentials',
    role: 'operator',
    summary: 'Credentials: names, kinds, users and protocols, nothing that opens a device',
    run: ({ store }) => {
      const rows = listCredentials(store.db);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/credentials',
    role: 'administrator',
    summary: 'Save a credential; one of the same name is taken the place of',
    body: credentialSchema as unknown as yup.Lazy<Credential>,
    bodySchema: { anyOf: credentialKinds.map((kind) => schemaOf(credentialSchema, { kind })) },
    run: ({ store, person, body }) => {
      saveCredential(store, body);
      recordAct(store.db, person.name, 'saved a credential', body.name);
      return { name: body.name };
    },
  }),
  route({
    method: 'DELETE',
    path: '/credentials/{id}',
    role: 'administrator',
    summary: 'Delete a credential; refused while a scope tries it',
    run: ({ store, person, params }) => {
      const id = Number(params.id);
      const scopes = scopesTrying(store.db, id);
      if (scopes.length > 0) {
        const names = scopes.map((name) => `“${name}”`).join(', ');
        const words = `The ${scopes.length === 1 ? 'scope' : 'scopes'} ${names} ${scopes.length === 1 ? 'tries' : 'try'} this credential: take it out there first.`;
        throw new Problem(409, 'In use', words);
      }
      const name = deleteCredential(store.db, id);
      if (name === null) throw notFound(`credential ${params.id}`);
      recordAct(store.db, person.name, 'deleted a credential', name);
      return { name };
    },
  }),
  route({
    method: 'POST',
    path: '/credentials/{id}/restore',
    role: 'administrator',
    summary: 'Take the deletion of a credential back, within the hour in which the secret is still there',
    run: ({ store, person, params }) => {
      const name = restoreCredential(store.db, Number(params.id));
      if (name === null) throw notFound(`deleted credential ${params.id}`);
      recordAct(store.db, person.name, 'brought a credential back', name);
      return { name };
    },
  }),
  route({
    method: 'POST',
    path: '/credentials/{id}/test',
    role: 'operator',
    summary: 'Try a credential at one address; the job it gives tells what came of it',
    body: testSchema,
    run: ({ store, person, params, body: { address, scopeId } }) => {
      const credential = listCredentials(store.db).find(({ id }) => id === Number(params.id));
      if (!credential) throw notFound(`credential ${params.id}`);
      recordAct(store.db, person.name, 'tried a credential', `${credential.name} at ${address}`);
      const test: CredentialTestBody = {
        credentialId: credential.id,
        address: addressOrNull(address) ?? address,
        scopeId: scopeId ?? null,
      };
      return { jobId: queueJob(store.db, 'credentialTest', test) };
    },
  }),
  route({
    method: 'GET',
    path: '/certificates',
    role: 'operator',
    summary: 'Certificates that are another than when they were first seen, and are not trusted',
    run: ({ store }) => {
      const rows = changedCertificates(store.db);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/certificates/trust',
    role: 'administrator',
    summary: 'Trust the certificate that a device shows now',
    body: trustSchema,
    run: ({ store, person, body: { address, port } }) => {
      const fingerprint = acceptOffered(store.db, address, port, new Date());
      if (fingerprint === null) throw notFound(`other certificate of ${address} port ${port}`);
      recordAct(store.db, person.name, 'trusted a certificate', `${address} port ${port} ${fingerprint}`);
      return { fingerprint };
    },
  }),
];
