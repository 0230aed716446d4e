import * as yup from 'yup';
import { latestSealed } from '../../store/commitReport';
import { IdentityDecisionError, joinDevices, splitDevice } from '../../store/identityDecisions';
import { activeJob } from '../../store/jobs';
import type { Store } from '../../store/database';
import { recordAct } from '../../store/people';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';

const decisionSchema = yup
  .object({
    kind: yup
      .string()
      .oneOf(['split', 'join'] as const, 'must be split or join')
      .required(),
    device: yup.number().integer().required('Say which device'),
    /** of a split: from which survey on it is another device */
    survey: yup.number().integer(),
    /** of a join: what it was, or became */
    other: yup.number().integer(),
  })
  .noUnknown();

/** Parts a device at a survey, or puts two together. */
export const POST = route('operator', decisionSchema, ({ store, person, body: { kind, device, survey, other } }) => {
  refuseWhileSurveying(store);
  if (kind === 'split' && survey === undefined)
    throw invalid([{ path: 'survey', message: 'Say from which survey on it is another device' }]);
  if (kind === 'join' && other === undefined)
    throw invalid([{ path: 'other', message: 'Say which device it is one with' }]);
  try {
    if (kind === 'split') {
      const id = splitDevice(store.db, person.name, device, survey ?? 0);
      recordAct(
        store.db,
        person.name,
        'parted a device',
        `device ${device} from survey ${survey ?? 0} on is device ${id}`,
      );
      return { device, other: id, latest: latestSealed(store.db) };
    }
    joinDevices(store.db, person.name, device, other ?? 0);
    recordAct(store.db, person.name, 'put two devices together', `device ${other ?? 0} is device ${device}`);
    return { device, other };
  } catch (error) {
    if (error instanceof IdentityDecisionError) throw new Problem(409, 'Not so', `${error.message}.`);
    throw error;
  }
});

/** Facts of devices are written by surveys: two writers of one identity would both be wrong. */
export function refuseWhileSurveying(store: Store): void {
  if (activeJob(store.db))
    throw new Problem(409, 'A survey runs', 'Wait until it is sealed: until then it decides who is who.');
}
