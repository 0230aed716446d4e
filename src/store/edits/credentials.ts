import type { Credential } from '../../core/estate/credential';
import type { Store } from '../base/database';
import { sameValue } from '../../core/edits/edit';
import {
  approvePlaces,
  deleteCredential,
  listCredentials,
  restoreCredential,
  saveCredential,
  scopesTrying,
  type ShownCredential,
} from '../credentials';
import { EditRefused, numberOf, oneByOne, type Editable } from './editable';

/** What is told of a credential: never its secrets, but when they were entered. */
export type CredentialTold = Omit<ShownCredential, 'id'>;

/**
 * Credentials, as the log of edits sees them: what is told of them, since a secret is in no log. So a deletion can be taken
 * back while the secret is still there, and a new secret cannot.
 * @param entered where a secret is written with it: the store that seals it, and the credential as it was entered
 */
export const credentialEdits = (entered?: { store: Store; credential: Credential }): Editable<CredentialTold> => ({
  kind: 'credentials',
  one: 'credential',
  many: 'credentials',
  role: 'administrator',
  readsBack: true,
  called: ({ name }) => name,
  read: (db, key) => {
    const found = listCredentials(db).find(({ id }) => id === numberOf(key));
    if (!found) return null;
    const { id: _id, ...told } = found;
    return told;
  },
  write: oneByOne((db, key, after, before) => {
    const id = numberOf(key ?? '');
    if (entered) return String(saveCredential(entered.store, entered.credential));
    if (after === null) {
      const scopes = scopesTrying(db, id);
      if (scopes.length > 0) throw inUse(key, scopes);
      deleteCredential(db, id);
      return key ?? '';
    }
    if (before !== null && sameValue({ ...before, approved: after.approved }, after)) {
      approvePlaces(db, id, after.approved);
      return key ?? '';
    }
    if (before !== null) throw new EditRefused('Its secret before is kept nowhere: enter it anew', key, '', 'Not kept');
    if (restoreCredential(db, id) === null) {
      const message = 'Its secret was wiped an hour after it was deleted: enter it anew';
      throw new EditRefused(message, key, '', 'Not kept');
    }
    return key ?? '';
  }),
});

function inUse(key: string | null, scopes: string[]): EditRefused {
  const names = scopes.map((name) => `“${name}”`).join(', ');
  const [scope, tries] = scopes.length === 1 ? ['scope', 'tries'] : ['scopes', 'try'];
  const message = `The ${scope} ${names} ${tries} this credential: take it out there first.`;
  return new EditRefused(message, key, '', 'In use');
}
