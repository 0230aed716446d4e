import { assemble, type Assembled, type Instance, type InstanceTalk } from '../../core/applications/assemble';
import type { Application } from '../../core/applications/application';
import type { DeviceFacts } from '../../core/estate/facts';
import type { ServiceKind } from '../../core/services/serviceRule';
import { valueAt, type ColumnSource } from '../../core/tables/column';
import { isLoopback } from '../../core/values/ipAddress';
import type { Db } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';

/** What serves and asks at a moment, on devices that are known. */
export interface Serving {
  instances: Instance[];
  talks: InstanceTalk[];
}

interface End {
  deviceId: number | null;
  process: string;
}

/** Processes that listen, and those that only ask; who asks whom. A side whose process nobody tells is the host as a whole. */
export function servingAt(db: Db, survey: number, services: ColumnSource, conversations: ColumnSource): Serving {
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
  const [clients, servers, protocol, port, last, samples] = columns(
    conversations,
    'client',
    'server',
    'protocol',
    'port',
    'lastSeen',
    'samples',
  );
  if (clients && servers && protocol && port && last && samples)
    for (let row = 0; row < conversations.size; row++) {
      const [client, server] = [valueAt(clients, row) as End, valueAt(servers, row) as End];
      if (client.deviceId === null || server.deviceId === null) continue;
      const place = `${String(valueAt(protocol, row))}/${String(valueAt(port, row))}`;
      const serves = byPort.get(`${server.deviceId} ${place}`) ?? (server.process || '');
      add(client.deviceId, client.process);
      add(server.deviceId, serves);
      const seen = Number(valueAt(samples, row) ?? 0);
      talks.push({
        client: { deviceId: client.deviceId, service: client.process },
        server: { deviceId: server.deviceId, service: serves },
        proof: `${place}, last seen ${String(valueAt(last, row)).slice(0, 10)}${seen > 1 ? `, in ${seen} surveys` : ''}`,
      });
    }
  return { instances: [...found.values()], talks };
}

/** What an application is made of. */
export const assembledFrom = (application: Application, { instances, talks }: Serving): Assembled =>
  assemble(application, instances, talks);
