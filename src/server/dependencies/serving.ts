import { assemble, type Assembled, type Instance, type InstanceTalk } from '../../core/applications/assemble';
import type { Application } from '../../core/applications/application';
import type { DeviceFacts } from '../../core/estate/facts';
import type { ServiceKind } from '../../core/services/serviceRule';
import { valueAt, type ColumnSource } from '../../core/tables/column';
import { isLoopback } from '../../core/values/ipAddress';
import type { ConversationsTable } from '../query/tables/conversationsTable';
import { proofOf, talkOfDevices } from './talkOfDevices';
import type { Db } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';

/** What serves and asks at a moment, on devices that are known. */
export interface Serving {
  instances: Instance[];
  talks: InstanceTalk[];
}

/** Processes that listen, and those that only ask; who asks whom. A side whose process nobody tells is the host as a whole. */
export function servingAt(db: Db, survey: number, services: ColumnSource, conversations: ConversationsTable): Serving {
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
    if (device) found.set(key, { deviceId, device: device.name, site: device.site, service, called, kind });
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
      client: { deviceId: client.deviceId, service: client.process },
      server: { deviceId: server.deviceId, service: serves },
      proof: proofOf({ protocol, port, lastSeen, samples }),
    });
  }
  return { instances: [...found.values()], talks };
}

/** What an application is made of. */
export const assembledFrom = (application: Application, { instances, talks }: Serving): Assembled =>
  assemble(application, instances, talks);
