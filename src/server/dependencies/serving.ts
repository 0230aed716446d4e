import { assemble, type Assembled, type Instance, type InstanceTalk } from '../../core/applications/assemble';
import type { Application } from '../../core/applications/application';
import type { DeviceFacts } from '../../core/estate/facts';
import type { ServiceKind } from '../../core/services/serviceRule';
import { valueAt, type ColumnSource } from '../../core/tables/column';
import { isLoopback } from '../../core/values/ipAddress';
import type { ConversationsTable } from '../query/tables/conversationsTable';
import { askedAddresses, proofOf, talkOfDevices } from './talkOfDevices';
import type { Db } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';

/** What serves and asks at a moment, on devices that are known. */
export interface Serving {
  instances: Instance[];
  talks: InstanceTalk[];
}

/**
 * Processes that listen, and those that only ask; who asks whom. A side whose process nobody tells is the host as a whole. What devices ask at an address that is none of theirs is a host too.
 * @param endpoints what such addresses are called
 */
export function servingAt(
  db: Db,
  survey: number,
  services: ColumnSource,
  conversations: ConversationsTable,
  endpoints: ColumnSource,
): Serving {
  const devices = new Map(
    factsAsOf<DeviceFacts>(db, 'device', survey).map(({ deviceId, content }) => [deviceId, content]),
  );
  const found = new Map<string, Instance>();
  const byPort = new Map<string, string>();
  const add = (deviceId: number, service: string, called = '', kind: ServiceKind | '' = ''): void => {
    const key = `${deviceId} ${service}`;
    const known = found.get(key);
    if (known) {
      known.called ||= called;
      known.kind ||= kind;
      return;
    }
    const device = devices.get(deviceId);
    if (device)
      found.set(key, { deviceId, address: '', device: device.name, site: device.site, service, called, kind });
  };
  const columns = (table: ColumnSource, ...fields: string[]) => fields.map((field) => table.column(field));
  const [owners, processes, protocols, ports, names, kinds, addresses] = columns(
    services,
    'deviceId',
    'process',
    'protocol',
    'port',
    'service',
    'kind',
    'address',
  );
  if (owners && processes && protocols && ports && names && kinds && addresses)
    for (let row = 0; row < services.size; row++) {
      if (isLoopback(String(valueAt(addresses, row)))) continue;
      const deviceId = Number(valueAt(owners, row));
      const place = `${String(valueAt(protocols, row))}/${String(valueAt(ports, row))}`;
      const service = String(valueAt(processes, row)) || place;
      byPort.set(`${deviceId} ${place}`, service);
      add(deviceId, service, String(valueAt(names, row) ?? ''), (valueAt(kinds, row) ?? '') as ServiceKind | '');
    }
  const talks: InstanceTalk[] = [];
  for (const { client, server, protocol, port, lastSeen, samples } of talkOfDevices(conversations)) {
    const place = `${protocol}/${port}`;
    const serves = byPort.get(`${server.deviceId} ${place}`) ?? server.process;
    add(client.deviceId, client.process);
    add(server.deviceId, serves);
    talks.push({
      client: { deviceId: client.deviceId, address: '', service: client.process },
      server: { deviceId: server.deviceId, address: '', service: serves },
      proof: proofOf({ protocol, port, lastSeen, samples }),
    });
  }
  const asked = askedAddresses(conversations);
  const hosts = hostsAt(endpoints, new Set(asked.map(({ server }) => server.address)));
  for (const { client, server, ...told } of asked) {
    const service = `${told.protocol}/${told.port}`;
    const { address, site } = server;
    const host = hosts.get(address);
    const device = host ? `${host} (${address})` : address;
    const one: Instance = { deviceId: 0, address, device, site, service, called: '', kind: '' };
    found.set(`${address} ${service}`, one);
    add(client.deviceId, client.process);
    talks.push({
      client: { deviceId: client.deviceId, address: '', service: client.process },
      server: { deviceId: 0, address, service },
      proof: proofOf(told),
    });
  }
  return { instances: [...found.values()], talks };
}

/** What hosts at some addresses are called, where anybody tells. */
function hostsAt(endpoints: ColumnSource, wanted: ReadonlySet<string>): Map<string, string> {
  const [addresses, names] = [endpoints.column('addresses'), endpoints.column('host')];
  const found = new Map<string, string>();
  for (let row = 0; wanted.size > 0 && row < endpoints.size; row++)
    for (const address of valueAt(addresses, row) as string[]) {
      const name = String(valueAt(names, row) ?? '');
      if (name && wanted.has(address)) found.set(address, name);
    }
  return found;
}

/** What an application is made of. */
export const assembledFrom = (application: Application, { instances, talks }: Serving): Assembled =>
  assemble(application, instances, talks);
