import * as yup from 'yup';
import { line } from '../../core/values/line';
import { listActs } from '../../store/audit';
import { readPreferences, writePreference } from '../../store/preferences';
import { editVersion } from '../../store/edits/log';
import { viewEdits } from '../../store/edits/views';
import { mayDeleteView, ownViewNamed, viewNumbered, viewsFor } from '../../store/savedViews';
import { notFound, Problem } from '../access/problem';
import { text, whole } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { personRoutes } from './personRoutes';
import { tokenRoutes } from './tokenRoutes';

const preferenceSchema = yup.object({ key: yup.string().required().max(80), value: yup.mixed().defined() }).noUnknown();
const pages = ['/estate', '/ports', '/map', '/firmware', '/ledger', '/survey'];
const viewSchema = yup
  .object({
    name: line('The name').required('Give the view a name').max(80),
    path: yup
      .string()
      .oneOf(pages, ({ value }) => `“${String(value)}” has no views: use ${pages.join(', ')}`)
      .required(),
    query: yup
      .string()
      .defined()
      .max(4000)
      .matches(/^[^#\s]*$/, 'must stand as in an address, without blanks'),
    shared: yup.boolean().required(),
  })
  .noUnknown();

/** People, what each of them chose, and what they did. */
export const peopleRoutes = [
  ...personRoutes,
  ...tokenRoutes,
  route({
    method: 'GET',
    path: '/preferences',
    role: 'viewer',
    summary: 'What one chose: columns, marks, pictures, by name',
    run: ({ store, person }) => readPreferences(store.db, person.id),
  }),
  route({
    method: 'PUT',
    path: '/preferences',
    role: 'viewer',
    summary: 'Keep a choice of one’s own',
    body: preferenceSchema,
    run: ({ store, person, body: { key, value } }) => {
      if (person.id > 0) writePreference(store.db, person.id, key, value ?? null);
      return {};
    },
  }),
  route({
    method: 'GET',
    path: '/views',
    role: 'viewer',
    summary: 'Saved views: one’s own and those that are shared',
    run: ({ store, person }) => {
      const version = editVersion(store.db);
      const rows = viewsFor(store.db, person.id);
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'POST',
    path: '/views',
    role: 'viewer',
    summary: 'Save a view; one of the same name is taken the place of',
    body: viewSchema,
    versioned: true,
    run: (call) => {
      const { store, person, body } = call;
      // a token belongs to no person
      if (person.id === 0) throw new Problem(403, 'Not allowed', 'Views belong to people: sign in to save one.');
      const after = { personId: person.id, ...body, savedAt: new Date().toISOString() };
      const known = ownViewNamed(store.db, after);
      const before = known === null ? null : viewNumbered(store.db, known);
      const act = body.shared ? 'shared a view' : 'saved a view';
      const changes = [{ key: known === null ? null : String(known), before, after }];
      const { key, ...edit } = written(call, viewEdits, { act, words: body.name, changes });
      return { id: Number(key), ...edit };
    },
  }),
  route({
    method: 'DELETE',
    path: '/views/{id}',
    role: 'viewer',
    summary: 'Delete a view of one’s own; an administrator any that is shared',
    versioned: true,
    run: (call) => {
      const { store, person, params } = call;
      const before = viewNumbered(store.db, Number(params.id));
      if (!before || !mayDeleteView(before, person)) throw notFound(`view ${params.id} of yours`);
      const changes = [{ key: params.id, before, after: null }];
      const { edit, version } = written(call, viewEdits, { act: 'deleted a view', words: before.name, changes });
      return { edit, version };
    },
  }),
  route({
    method: 'GET',
    path: '/audit',
    role: 'administrator',
    summary: 'What was done, by whom and when, newest first',
    query: yup.object({
      text: text('words that must be in it').default(''),
      before: whole('older than the act of this number', 1, Number.MAX_SAFE_INTEGER),
      size: whole('how many', 1, 200).default(50),
    }),
    run: ({ store, query: { text: words, before, size } }) =>
      listActs(store.db, { text: words, before: before ?? null, most: size }),
  }),
];
