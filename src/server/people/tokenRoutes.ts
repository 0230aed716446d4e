import { tokenSchema } from '../../core/people/tokenSchema';
import { recordAct } from '../../store/audit';
import { addToken, hasToken, listTokens, revokeToken } from '../../store/tokens';
import { invalid, notFound } from '../access/problem';
import { route } from '../api/route';

/** Tokens of scripts: what opens the API without a person. */
export const tokenRoutes = [
  route({
    method: 'GET',
    path: '/tokens',
    role: 'administrator',
    summary: 'Tokens of scripts: what each may, until when, and when it was used last',
    run: ({ store }) => {
      const rows = listTokens(store.db);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/tokens',
    role: 'administrator',
    summary: 'Make a token; its text is told this once',
    body: tokenSchema,
    run: ({ store, person, body: { name, role, expiresOn, areas } }) => {
      if (expiresOn && expiresOn < new Date().toISOString().slice(0, 10)) {
        throw invalid([{ path: 'expiresOn', message: 'That day is over' }]);
      }
      if (hasToken(store.db, name)) throw invalid([{ path: 'name', message: `There is a token “${name}” already` }]);
      const token = addToken(store.db, { name, role, expiresOn: expiresOn || null, areas: areas ?? null });
      recordAct(store.db, person.name, `added ${role} token`, name);
      return { name, token };
    },
  }),
  route({
    method: 'DELETE',
    path: '/tokens/{id}',
    role: 'administrator',
    summary: 'Revoke a token: from then on it opens nothing',
    run: ({ store, person, params }) => {
      const name = revokeToken(store.db, Number(params.id));
      if (name === null) throw notFound(`token ${params.id}`);
      recordAct(store.db, person.name, 'revoked a token', name);
      return { name };
    },
  }),
];
