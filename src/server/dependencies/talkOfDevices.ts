import { valueAt } from '../../core/tables/column';
import type { ConversationsTable } from '../query/tables/conversationsTable';

/** One conversation between devices that are known. */
export interface DeviceTalk {
  client: { deviceId: number; process: string };
  server: { deviceId: number; process: string };
  protocol: string;
  port: number;
  /** seconds since the epoch */
  lastSeen: number;
  /** surveys it was seen in */
  samples: number;
}

/** Who talks to whom between devices that are known. @param since only what was heard from then on, in seconds since the epoch */
export function* talkOfDevices(table: ConversationsTable, since = 0): Generator<DeviceTalk> {
  const [clients, servers, last] = [table.devicesAt('client'), table.devicesAt('server'), table.lastSeconds()];
  const of = (field: string) => {
    const column = table.column(field);
    return (row: number) => valueAt(column, row);
  };
  const [asker, process, protocol, port, samples] = [
    of('clientProcess'),
    of('serverProcess'),
    of('protocol'),
    of('port'),
    of('samples'),
  ];
  for (let row = 0; row < table.size; row++) {
    const [client = 0, server = 0, lastSeen = 0] = [clients[row], servers[row], last[row]];
    if (client === 0 || server === 0 || lastSeen < since) continue;
    yield {
      client: { deviceId: client, process: String(asker(row)) },
      server: { deviceId: server, process: String(process(row)) },
      protocol: String(protocol(row)),
      port: Number(port(row)),
      lastSeen,
      samples: Number(samples(row)),
    };
  }
}

/** What a known device asks at an address of which nothing else is known. */
export interface AskedAddress {
  client: { deviceId: number; process: string };
  server: { address: string; site: string };
  protocol: string;
  port: number;
  lastSeen: number;
  samples: number;
}

/** Who asks so many at one port asks whoever there is, as a proxy or a scanner does: none of them is a part of anything. */
const mostAsked = 500;

/** What known devices ask at addresses that are no device. @param since only what was heard from then on, in seconds since the epoch */
export function askedAddresses(table: ConversationsTable, since = 0): AskedAddress[] {
  const [clients, servers, last] = [table.devicesAt('client'), table.devicesAt('server'), table.lastSeconds()];
  const of = (field: string) => {
    const column = table.column(field);
    return (row: number) => valueAt(column, row);
  };
  const [asker, protocol, port, samples, address, site] = [
    of('clientProcess'),
    of('protocol'),
    of('port'),
    of('samples'),
    of('serverAddress'),
    of('serverSite'),
  ];
  const byAsker = new Map<string, AskedAddress[]>();
  for (let row = 0; row < table.size; row++) {
    const client = clients[row] ?? 0;
    if (client === 0 || (servers[row] ?? 0) > 0 || (last[row] ?? 0) < since) continue;
    const key = `${client} ${String(asker(row))} ${String(protocol(row))}/${String(port(row))}`;
    const own = byAsker.get(key) ?? [];
    byAsker.set(key, own);
    if (own.length > mostAsked) continue;
    own.push({
      client: { deviceId: client, process: String(asker(row)) },
      server: { address: String(address(row)), site: String(site(row) ?? '') },
      protocol: String(protocol(row)),
      port: Number(port(row)),
      lastSeen: last[row] ?? 0,
      samples: Number(samples(row)),
    });
  }
  return [...byAsker.values()].flatMap((own) => (own.length > mostAsked ? [] : own));
}

/** By what it is known that two talk, in words. */
export function proofOf({
  protocol,
  port,
  lastSeen,
  samples,
}: Pick<DeviceTalk, 'protocol' | 'port' | 'lastSeen' | 'samples'>): string {
  const day = new Date(lastSeen * 1000).toISOString().slice(0, 10);
  return `${protocol}/${port}, last seen ${day}${samples > 1 ? `, in ${samples} surveys` : ''}`;
}
