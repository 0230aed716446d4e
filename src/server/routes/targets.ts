import * as yup from 'yup';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { readCatalogue, readTargets, setTarget } from '../../store/settings';

const targetSchema = yup.object({ vendor: yup.string().required(), family: yup.string().required(), release: yup.string().nullable().defined() }).noUnknown();

export const GET = route('viewer', null, ({ store }) => {
  const rows = readTargets(store.db);
  return { rows, total: rows.length };
});

export const PUT = route('operator', targetSchema, ({ store, person, body: { vendor, family, release } }) => {
  if (release !== null && !readCatalogue(store.db).some((entry) => entry.vendor === vendor && entry.family === family && entry.release === release)) {
    throw invalid([{ path: 'release', message: `The catalogue has no ${vendor} ${family} release ${release}` }]);
  }
  setTarget(store.db, vendor, family, release, person.name);
  recordAct(store.db, person.name, release === null ? 'took a target away' : 'set a target', `${vendor} ${family} ${release ?? ''}`.trim());
  return {};
});
