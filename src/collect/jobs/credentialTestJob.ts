import * as yup from 'yup';
import { scopeDefaults } from '../../core/estate/scope';
import { PinnedCertificates } from '../../store/certificates';
import { listCredentials, openCredentials } from '../../store/credentials';
import type { CredentialTestBody } from '../../store/jobs';
import { listScopes } from '../../store/scopes';
import { testCredential } from '../survey/testCredential';
import { checkedScope } from './checkedScope';
import { jobKind, unlessCancelled } from './jobKind';

const payload = yup
  .object({
    credentialId: yup.number().integer().required(),
    address: yup.string().required(),
    scopeId: yup.number().integer().nullable().defined(),
  })
  .noUnknown() as yup.Schema<CredentialTestBody>;

/** Tries a credential at one address; it waits for no survey. */
export const credentialTestJob = jobKind<CredentialTestBody>({
  kind: 'credentialTest',
  lane: 'questions',
  payload,
  attempts: 1,
  run: async ({ store, body: { credentialId, address, scopeId }, signal }) => {
    const { db } = store;
    const name = listCredentials(db).find(({ id }) => id === credentialId)?.name ?? '';
    const [credential] = openCredentials(store, [name], 'any');
    if (!credential) throw new Error('the credential was deleted before it was tried');
    const text = listScopes(db).find(({ id }) => id === scopeId)?.scope ?? scopeDefaults;
    const scope = checkedScope({ ...text, ranges: [address], exclusions: [] });
    const certificates = new PinnedCertificates(db, () => new Date());
    return unlessCancelled(signal, testCredential(credential, address, scope, certificates));
  },
});
