import {
  circlesOf,
  type Circle,
  type Circles,
  type HostTalk,
  type TalkingHost,
} from '../../../core/dependency/circles';
import type { ServiceKind } from '../../../core/services/serviceRule';
import { columnsOfRows, valueAt, type ColumnSource } from '../../../core/tables/column';
import type { Db } from '../../../store/base/database';
import { captureStamp } from '../../../store/talk';
import { Calendar } from '../calendar';
import { conversations } from './conversationRows';
import { services } from './hostRows';
import type { Builder } from './rowBuilder';

/** So many surveys back circles are followed, so that they keep their names. */
const mostFollowed = 6;

interface End {
  address: string;
  deviceId: number | null;
  device: string;
  site: string;
}

/** Who talks to whom, host by host: by its number where a device is known, else by its address. */
export function hostTalk(talks: ColumnSource, listeners: ColumnSource): { hosts: TalkingHost[]; talks: HostTalk[] } {
  const known = new Map<string, { service: string; kind: ServiceKind | '' }>();
  const of = (table: ColumnSource, fields: readonly string[]) => fields.map((field) => table.column(field));
  const [devices, protocols, ports, names, kinds] = of(listeners, ['deviceId', 'protocol', 'port', 'service', 'kind']);
  if (devices && protocols && ports && names && kinds)
    for (let row = 0; row < listeners.size; row++)
      known.set(`${String(valueAt(devices, row))} ${String(valueAt(protocols, row))}/${String(valueAt(ports, row))}`, {
        service: String(valueAt(names, row) ?? ''),
        kind: (valueAt(kinds, row) ?? '') as ServiceKind | '',
      });
  const hosts = new Map<string, TalkingHost>();
  const hostOf = ({ address, deviceId, device, site }: End): string => {
    const id = deviceId === null ? address : String(deviceId);
    if (!hosts.has(id)) hosts.set(id, { id, name: device || address, site });
    return id;
  };
  const found: HostTalk[] = [];
  const [clients, servers, protocol, port, events, samples, bytes] = of(talks, [
    'client',
    'server',
    'protocol',
    'port',
    'events',
    'samples',
    'bytes',
  ]);
  if (!clients || !servers || !protocol || !port || !events || !samples || !bytes) return { hosts: [], talks: [] };
  for (let row = 0; row < talks.size; row++) {
    const server = valueAt(servers, row) as End;
    const place = `${String(valueAt(protocol, row))}/${String(valueAt(port, row))}`;
    const { service = '', kind = '' } = known.get(`${String(server.deviceId)} ${place}`) ?? {};
    found.push({
      client: hostOf(valueAt(clients, row) as End),
      server: hostOf(server),
      protocol: String(valueAt(protocol, row)),
      port: Number(valueAt(port, row)),
      service,
      kind,
      events: Math.max(Number(valueAt(events, row) ?? 0), Number(valueAt(samples, row) ?? 0)),
      bytes: Number(valueAt(bytes, row) ?? 0),
    });
  }
  return { hosts: [...hosts.values()], talks: found };
}

const earlier = new WeakMap<Db, { stamp: string; found: Map<number, Circle[]> }>();

/** Circles of earlier surveys, each begun from the one before: so a circle is the same one from survey to survey. */
function circlesBefore(db: Db, survey: number): Circle[] {
  const stamp = captureStamp(db);
  let kept = earlier.get(db);
  if (kept?.stamp !== stamp) earlier.set(db, (kept = { stamp, found: new Map() }));
  const calendar = new Calendar(db);
  const way: number[] = [];
  for (let at = calendar.comparable(survey); at > 0 && way.length < mostFollowed; at = calendar.comparable(at)) {
    way.push(at);
    if (kept.found.has(at)) break;
  }
  let before: Circle[] = [];
  for (const at of way.reverse()) {
    const known = kept.found.get(at);
    if (known) {
      before = known;
      continue;
    }
    const noOther = () => columnsOfRows([]);
    const asked = { db, survey: at, against: null };
    const { hosts, talks } = hostTalk(
      columnsOfRows(conversations(asked, noOther)),
      columnsOfRows(services(asked, noOther)),
    );
    before = circlesOf(hosts, talks, before).circles;
    kept.found.set(at, before);
  }
  return before;
}

/** Circles as of a survey, and what is set apart. */
export function circlesAt(db: Db, survey: number, talks: ColumnSource, listeners: ColumnSource): Circles {
  const { hosts, talks: all } = hostTalk(talks, listeners);
  return circlesOf(hosts, all, circlesBefore(db, survey));
}

/** Hosts that belong together because they talk, as a table. */
export const circles: Builder = ({ db, survey }, other) =>
  circlesAt(db, survey, other('conversations'), other('services')).circles.map(
    ({ id, name, hosts, talks, inside }) => ({
      id,
      name,
      hosts: hosts.map((host) => host.name),
      hostIds: hosts.map((host) => host.id),
      hostCount: hosts.length,
      sites: [...new Set(hosts.map(({ site }) => site).filter(Boolean))].sort(),
      services: [...new Set(talks.map(({ service, protocol, port }) => service || `${protocol}/${port}`))].sort(),
      conversations: talks.length,
      bytes: talks.reduce((sum, one) => sum + one.bytes, 0),
      insidePercent: Math.round(100 * inside),
    }),
  );

const mostTalk = 400;

/** Circles with their hosts and talk, and what everybody asks. */
export function toldCircles(db: Db, survey: number, talks: ColumnSource, listeners: ColumnSource): Circles {
  const { circles: all, shared } = circlesAt(db, survey, talks, listeners);
  return { shared, circles: all.map((circle) => ({ ...circle, talks: circle.talks.slice(0, mostTalk) })) };
}
