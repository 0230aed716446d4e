import * as yup from 'yup';
import { line } from '../../core/values/line';
import { nowhere, type Approval } from '../../core/estate/approval';
import { credentialKinds, writes, type Credential } from '../../core/estate/credential';
import { approvalSchema, credentialSchema } from '../../core/estate/credentialSchema';
import { addressOrNull } from '../../core/values/ipAddress';
import { acceptOffered, changedCertificates } from '../../store/certificates';
import { queueJob, type CredentialTestBody } from '../../store/jobs';
import { recordAct } from '../../store/audit';
import { listCredentials, toldOf } from '../../store/credentials';
import { credentialEdits } from '../../store/edits/credentials';
import { editVersion } from '../../store/edits/log';
import { notFound, Problem } from '../access/problem';
import { route } from '../api/route';
import { written } from '../edits/written';
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
      const version = editVersion(store.db);
      const rows = listCredentials(store.db);
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'POST',
    path: '/credentials',
    role: 'administrator',
    summary: 'Save a credential; one of the same name is taken the place of',
    body: credentialSchema as unknown as yup.Lazy<Credential>,
    bodySchema: { anyOf: credentialKinds.map((kind) => schemaOf(credentialSchema, { kind })) },
    versioned: true,
    run: (call) => {
      const { store, body: credential } = call;
      const known = listCredentials(store.db).find(({ name }) => name === credential.name);
      const entered = credentialEdits({ store, credential });
      const key = known ? String(known.id) : null;
      const before = key === null ? null : entered.read(store.db, key, '');
      const approved = credential.approved ?? before?.approved ?? nowhere;
      const changes = [{ key, before, after: { ...toldOf(credential), approved } }];
      const words = credential.name;
      const { edit, version } = written(call, entered, { act: 'saved a credential', words, changes });
      return { name: words, edit, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/credentials/{id}/approved',
    role: 'administrator',
    summary: 'Say where the secret of a credential may be sent; the secret stays as it is',
    body: approvalSchema as yup.Schema<Approval>,
    versioned: true,
    run: (call) => {
      const { db } = call.store;
      const editable = credentialEdits();
      const before = editable.read(db, call.params.id, '');
      if (!before) throw notFound(`credential ${call.params.id}`);
      const changes = [{ key: call.params.id, before, after: { ...before, approved: call.body } }];
      const act = { act: 'approved places for a credential', words: before.name, changes };
      const { edit, version } = written(call, editable, act);
      return { name: before.name, edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/credentials/{id}',
    role: 'administrator',
    summary: 'Delete a credential; refused while a scope tries it. Within the hour it can be taken back',
    versioned: true,
    run: (call) => {
      const { db } = call.store;
      const editable = credentialEdits();
      const before = editable.read(db, call.params.id, '');
      if (!before) throw notFound(`credential ${call.params.id}`);
      const changes = [{ key: call.params.id, before, after: null }];
      const { edit, version } = written(call, editable, { act: 'deleted a credential', words: before.name, changes });
      return { name: before.name, edit, version };
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
      if (writes(credential) && person.role !== 'administrator')
        throw new Problem(
          403,
          'Not allowed',
          `“${credential.name}” is kept for acting on ports: only an administrator tries it by itself.`,
        );
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
