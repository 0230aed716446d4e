import * as yup from 'yup';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { groupFilterMistake } from '../../store/deviceFilter';
import { readGroups } from '../../store/groups';
import { recordAct } from '../../store/people';
import { readCatalogue, readTargets, setTarget } from '../../store/settings';

const targetSchema = yup
  .object({
    vendor: yup.string().required(),
    family: yup.string().required(),
    release: yup.string().nullable().defined(),
    group: yup.string(),
  })
  .noUnknown();

export const GET = route('viewer', null, ({ store }) => {
  const rows = readTargets(store.db);
  return { rows, total: rows.length };
});

export const PUT = route(
  'operator',
  targetSchema,
  ({ store, person, body: { vendor, family, release, group = '' } }) => {
    const mistake = group === '' ? null : groupFilterMistake(store.db, group);
    if (group !== '' && !readGroups(store.db).some(({ name, thing }) => name === group && thing === 'devices'))
      throw invalid([{ path: 'group', message: `There is no group of devices “${group}”` }]);
    if (mistake !== null && release !== null) throw invalid([{ path: 'group', message: mistake }]);
    if (
      release !== null &&
      !readCatalogue(store.db).some(
        (entry) => entry.vendor === vendor && entry.family === family && entry.release === release,
      )
    ) {
      throw invalid([{ path: 'release', message: `The catalogue has no ${vendor} ${family} release ${release}` }]);
    }
    setTarget(store.db, vendor, family, release, person.name, group);
    recordAct(
      store.db,
      person.name,
      release === null ? 'took a target away' : 'set a target',
      `${vendor} ${family} ${release ?? ''}${group && ` in ${group}`}`.trim(),
    );
    return {};
  },
);
