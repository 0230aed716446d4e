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
