import type { ConversationFacts, ServiceFacts } from './facts';
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

/** Ports that are handed out anew for each question, from here on (RFC 6335). */
const firstDynamicPort = 49_152;

export const conversationKey = ({ role, protocol, address, peer, port, process }: ConversationFacts): string =>
  `${role} ${protocol} ${address} ${peer} ${port} ${process}`;

/**
 * Who this device talks to over established connections, each with the process at this end. Several connections of one process to the same port are one
 * conversation. Those within the machine itself tell nothing of the network.
 */
export function conversationsOf({
  connections,
  listeners,
  running,
}: Pick<Harvest, 'connections' | 'listeners' | 'running'>): ConversationFacts[] {
  const names = new Map(running.map(({ process, name }) => [process, name]));
  const listening = new Set(listeners.flatMap(({ protocol, port }) => (protocol === 'tcp' ? [port] : [])));
  const found = new Map<string, ConversationFacts>();
  for (const { localAddress, localPort, remoteAddress, remotePort, process } of connections) {
    if (localAddress === remoteAddress || isLoopback(remoteAddress)) continue;
    const { role, basis } = roleOf(localPort, remotePort, listening);
    const conversation: ConversationFacts = {
      role,
      protocol: 'tcp',
      address: localAddress,
      process: (process === null ? undefined : names.get(process)) ?? '',
      peer: remoteAddress,
      port: role === 'server' ? localPort : remotePort,
      basis,
    };
    found.set(conversationKey(conversation), conversation);
  }
  return [...found.values()];
}

const isLoopback = (address: string) => address.startsWith('127.') || address === '::1';

/** Who serves: whoever listens on its port, else whoever has the port that is not handed out for the asking. */
function roleOf(
  local: number,
  remote: number,
  listening: ReadonlySet<number>,
): Pick<ConversationFacts, 'role' | 'basis'> {
  if (listening.has(local)) return { role: 'server', basis: 'listener' };
  // where a device tells its listeners, a port without one belongs to the side that asks
  if (listening.size > 0) return { role: 'client', basis: 'listener' };
  const isDynamic = (port: number) => port >= firstDynamicPort;
  const serves = isDynamic(local) === isDynamic(remote) ? local < remote : isDynamic(remote);
  return { role: serves ? 'server' : 'client', basis: 'port' };
}
