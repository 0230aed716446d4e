import * as yup from 'yup';
import { recordAct } from '../../store/people';
import { queuePortLook } from '../../store/portActs';
import { wayIn } from '../../store/wayIn';
import { notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';

const lookSchema = yup.object({ port: yup.string().required('Say which port').max(300) }).noUnknown();

/** What hangs on a port, and a job that asks the device how the port is now, by the credential that would act on it. */
export const POST = route('operator', lookSchema, async ({ store, person, body }) => {
  const there = await tableAnswers(store).ask('hangingAt', body.port);
  if (!there) throw notFound(`port “${body.port}” in the newest survey`);
  const way = wayIn(store.db, there.deviceId);
  if ('reason' in way)
    throw new Problem(
      409,
      'No way to act',
      `${way.reason.charAt(0).toUpperCase()}${way.reason.slice(1)}. ${way.remedy}`,
    );
  recordAct(store.db, person.name, 'looked at a port to act on it', `${there.device} ${there.port}`);
  return { jobId: queuePortLook(store.db, { deviceId: there.deviceId, port: there.port }), there };
});
