import type { ServiceFacts, SightingFacts } from './facts';
import type { Harvest } from './harvest';

/** UDP sockets from here on are mostly the asking side of somebody's question, taken anew each time: they would be a change at every look. */
const firstPassingPort = 32_768;

/** Who listens where, by process. Several processes that share a socket are one service; a UDP socket on a passing port is none. */
export function servicesOf({ listeners, running }: Pick<Harvest, 'listeners' | 'running'>): ServiceFacts[] {
  const processes = new Map(running.map((row) => [row.process, row]));
  const found = new Map<string, ServiceFacts>();
  for (const { protocol, address, port, process } of listeners) {
    const own = process === null ? undefined : processes.get(process);
    if (protocol === 'udp' && port >= firstPassingPort) continue;
    const service: ServiceFacts = {
      process: own?.name ?? '',
      path: own?.path ?? '',
      arguments: own?.parameters ?? '',
      protocol,
      address,
      port,
    };
    found.set(serviceKey(service), service);
  }
  return [...found.values()].sort(
    (x, y) => x.port - y.port || x.protocol.localeCompare(y.protocol) || x.address.localeCompare(y.address),
  );
}

export const serviceKey = ({ protocol, address, port, process }: ServiceFacts) =>
  `${protocol} ${address} ${port} ${process}`;

/** Established connections with the name of the process at this end. Those within the machine itself tell nothing of the network. */
export function connectionsOf({
  connections,
  running,
}: Pick<Harvest, 'connections' | 'running'>): NonNullable<SightingFacts['connections']> {
  const names = new Map(running.map(({ process, name }) => [process, name]));
  return connections
    .filter(
      ({ localAddress, remoteAddress }) =>
        localAddress !== remoteAddress && !remoteAddress.startsWith('127.') && remoteAddress !== '::1',
    )
    .map(({ process, ...ends }) => ({ ...ends, process: (process === null ? undefined : names.get(process)) ?? '' }));
}
