import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf, vlanAsked } from '../things/ask';

const known = ['survey', 'against', 'devices', 'vlan'];
/** more are never in sight at once */
const mostDevices = 500;

/** `GET /map/ports?devices=12,13&survey&against&vlan`: the ports of some devices as the map shows them on their plates. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
  const devices = (url.searchParams.get('devices') ?? '').split(',').map(Number);
  if (devices.some((device) => !Number.isInteger(device) || device < 1))
    throw invalid([{ path: 'devices', message: 'must be numbers of devices, with commas between them' }]);
  if (devices.length > mostDevices)
    throw invalid([{ path: 'devices', message: `no more than ${mostDevices} at once` }]);
  const vlan = vlanAsked(url);
  const { survey, against } = momentsOf(store, url.searchParams);
  return { rows: await tableAnswers(store).ask('mapPorts', survey, against, devices, vlan), survey };
});
