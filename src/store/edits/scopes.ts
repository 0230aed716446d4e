import { scopeDefaults, type ScopeText } from '../../core/estate/scope';
import { sameValue } from '../../core/edits/edit';
import { listCredentials } from '../credentials';
import { deleteScope, listScopes, saveScope } from '../scopes';
import { EditRefused, numberOf, oneByOne, type Editable } from './editable';

/** Of an edit of long ago, too, which says nothing of them. */
const writersIn = (scope: ScopeText | null): string[] => ({ ...scopeDefaults, ...scope }).writeCredentials;

/** Scopes, as the log of edits sees them. */
export const scopeEdits: Editable<ScopeText> = {
  kind: 'scopes',
  one: 'scope',
  many: 'scopes',
  role: 'operator',
  called: ({ name }) => name,
  same: (one, other) => sameValue({ ...scopeDefaults, ...one }, { ...scopeDefaults, ...other }),
  // a secret that writes goes nowhere because somebody who runs surveys says so
  onlyBy: (before, after) =>
    writersIn(after).some((name) => !writersIn(before).includes(name))
      ? {
          role: 'administrator',
          path: 'writeCredentials',
          why: 'Only an administrator gives a scope credentials for acting on ports',
        }
      : null,
  read: (db, key) => listScopes(db).find(({ id }) => id === numberOf(key))?.scope ?? null,
  write: oneByOne((db, key, after) => {
    if (after === null) {
      deleteScope(db, numberOf(key ?? ''));
      return key ?? '';
    }
    const named = listScopes(db).find(({ scope }) => scope.name === after.name);
    if (named && String(named.id) !== key) {
      throw new EditRefused(`There is a scope “${after.name}” already`, key, 'name');
    }
    const known = new Set(listCredentials(db).map(({ name }) => name));
    const gone = [...after.credentials, ...after.writeCredentials].find((name) => !known.has(name));
    if (gone !== undefined) throw new EditRefused(`There is no credential “${gone}” any more`, key, 'credentials');
    return String(saveScope(db, after, key === null ? undefined : numberOf(key)));
  }),
};
