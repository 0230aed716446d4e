import * as yup from 'yup';
import { recordAct } from '../../store/people';
import { saveView, viewsFor } from '../../store/savedViews';
import { Problem } from '../access/problem';
import { line } from '../access/line';
import { route } from '../access/route';

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

export const GET = route('viewer', null, ({ store, person }) => {
  const rows = viewsFor(store.db, person.id);
  return { rows, total: rows.length };
});

export const POST = route('viewer', viewSchema, ({ store, person, body }) => {
  // a token belongs to no person
  if (person.id === 0) throw new Problem(403, 'Not allowed', 'Views belong to people: sign in to save one.');
  const id = saveView(store.db, person.id, body);
  recordAct(store.db, person.name, body.shared ? 'shared a view' : 'saved a view', body.name);
  return { id };
});
