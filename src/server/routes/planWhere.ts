import { invalid } from '../access/problem';
import { route } from '../access/route';
import { whereabouts } from '../floor/planRows';

/** `GET /plans/where?device=ID` or `?port=ID:NAME`: the outlet a port leads to, and the plans on which it or the device stands. */
export const GET = route('viewer', null, ({ store, url }) => {
  const device = /^(\d+)$/.exec(url.searchParams.get('device') ?? '')?.[1];
  const [, ofPort, name] = /^(\d+):(.+)$/s.exec(url.searchParams.get('port') ?? '') ?? [];
  if (device !== undefined) return whereabouts(store, Number(device), null);
  if (name === undefined)
    throw invalid([{ path: 'port', message: 'Say which device (device=ID) or port (port=ID:NAME)' }]);
  return whereabouts(store, Number(ofPort), name);
});
