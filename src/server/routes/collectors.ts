import * as yup from 'yup';
import { nameMistake } from '../../core/values/password';
import { invalid } from '../access/problem';
import { line } from '../access/line';
import { route } from '../access/route';
import { listCollectors } from '../../store/collectors';
import { addToken, recordAct } from '../../store/people';
import { programVersion } from '../../store/programFiles';

const addSchema = yup.object({ name: line('The name').required('Give the collector a name').max(60) }).noUnknown();

export const GET = route('viewer', null, ({ store }) => {
  const rows = listCollectors(store.db);
  return { rows, total: rows.length, version: programVersion(), now: new Date().toISOString() };
});

/** The token is in this answer and nowhere else. */
export const POST = route('administrator', addSchema, ({ store, person, body: { name } }) => {
  const mistake = nameMistake(name);
  if (mistake) throw invalid([{ path: 'name', message: mistake }]);
  try {
    const token = addToken(store.db, name, 'collector');
    recordAct(store.db, person.name, 'added a collector', name);
    return { name, token };
  } catch (error) {
    if (!/UNIQUE/.test((error as Error).message)) throw error;
    throw invalid([{ path: 'name', message: `There is a token “${name}” already` }]);
  }
});
