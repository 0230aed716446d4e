import { actWords } from '../../core/acting/portAct';
import { recordAct } from '../../store/people';
import { PortBusyError, queuePortAct, readPortAct, recentPortActs } from '../../store/portActs';
import { wayIn } from '../../store/wayIn';
import { invalid, notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { actOf, portActSchema } from '../acting/actAsked';
import { verdictOn } from '../acting/hanging';
import { tableAnswers } from '../tables/thread/tableAnswers';

const known = ['port', 'size'];
const mostActs = 500;

/** What people did to ports, or to one of them, newest first. */
export const GET = route('viewer', null, ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
  const size = Number(url.searchParams.get('size') ?? '20');
  if (!Number.isInteger(size) || size < 1 || size > mostActs)
    throw invalid([{ path: 'size', message: `must be a whole number from 1 to ${mostActs}` }]);
  const port = url.searchParams.get('port');
  const [, deviceId, name] = port === null ? [] : (/^(\d+):(.*)$/s.exec(port) ?? []);
  if (port !== null && name === undefined)
    throw invalid([{ path: 'port', message: `“${port}” is no port: write it as DEVICE:NAME` }]);
  const rows = recentPortActs(store.db, name === undefined ? {} : { deviceId: Number(deviceId), port: name }, size);
  return { rows, total: rows.length };
});

/** Does something to a port. Asked for in the newest survey's light, and sent only if the port still is as it was seen. */
export const POST = route('operator', portActSchema, async ({ store, person, body }) => {
  const act = actOf(body.act);
  const there = await tableAnswers(store).ask('hangingAt', body.port);
  if (!there) throw notFound(`port “${body.port}” in the newest survey`);
  const way = wayIn(store.db, there.deviceId);
  if ('reason' in way)
    throw new Problem(
      409,
      'No way to act',
      `${way.reason.charAt(0).toUpperCase()}${way.reason.slice(1)}. ${way.remedy}`,
    );
  const { refused, nameToType } = verdictOn(act, there);
  if (refused !== null && !(body.force && person.role === 'administrator'))
    throw new Problem(403, 'An uplink', refused, [{ path: 'force', message: refused }]);
  if (nameToType !== null && body.name !== nameToType)
    throw invalid([{ path: 'name', message: `Something hangs there: type “${nameToType}” to go on` }]);
  if (body.undoes) {
    const undone = readPortAct(store.db, body.undoes);
    if (!undone || undone.deviceId !== there.deviceId || undone.port !== there.port)
      throw invalid([{ path: 'undoes', message: 'That act was not done to this port' }]);
  }
  recordAct(
    store.db,
    person.name,
    'asked for an act on a port',
    `${there.device} ${there.port}: ${actWords(act)}${refused !== null ? ', though it is an uplink' : ''}`,
  );
  try {
    return queuePortAct(store.db, {
      who: person.name,
      deviceId: there.deviceId,
      device: there.device,
      port: there.port,
      act,
      forced: refused !== null,
      seen: body.seen,
      undoes: body.undoes ?? null,
    });
  } catch (error) {
    if (error instanceof PortBusyError) throw new Problem(409, 'Somebody is at work', `${error.message}.`);
    throw error;
  }
});
