import { indexedAddress } from './inetAddress';
import { tableRows, type Answered } from './table';
import { numberOf } from './varbind';

/** TCP-MIB (RFC 4022) and UDP-MIB (RFC 4113): who listens, and who talks to whom, each with its process. */
export const transportTables = {
  tcpListenerEntry: '1.3.6.1.2.1.6.20.1',
  tcpConnectionEntry: '1.3.6.1.2.1.6.19.1',
  udpEndpointEntry: '1.3.6.1.2.1.7.7.1',
} as const;

/** A process number of 0 means that the agent does not tell. */
export interface Listener {
  protocol: 'tcp' | 'udp';
  /** `*` for any local address */
  address: string;
  port: number;
  process: number | null;
}

export interface Connection {
  localAddress: string;
  localPort: number;
  remoteAddress: string;
  remotePort: number;
  process: number | null;
}

const established = 5;

/** TCP listeners, and UDP endpoints that are bound to no remote side. */
export function parseListeners(answered: Answered): Listener[] {
  const found = new Map<string, Listener>();
  const keep = (protocol: Listener['protocol'], address: string, port: number, process: number | undefined) => {
    if (port < 1 || port > 65_535) return;
    found.set(`${protocol} ${address} ${port} ${process ?? 0}`, { protocol, address, port, process: process || null });
  };
  for (const { index, cells } of tableRows(transportTables.tcpListenerEntry, answered)) {
    const local = indexedAddress(index, 0);
    const port = local ? index[local.next] : undefined;
    if (local && port !== undefined) keep('tcp', local.address, port, numberOf(cells.get(4)));
  }
  for (const { index, cells } of tableRows(transportTables.udpEndpointEntry, answered)) {
    const local = indexedAddress(index, 0);
    const port = local ? index[local.next] : undefined;
    const remote = local ? indexedAddress(index, local.next + 1) : null;
    const remotePort = remote ? index[remote.next] : undefined;
    if (local && port !== undefined && remotePort === 0) keep('udp', local.address, port, numberOf(cells.get(8)));
  }
  return [...found.values()];
}

/** Established TCP connections. */
export function parseConnections(answered: Answered): Connection[] {
  return tableRows(transportTables.tcpConnectionEntry, answered).flatMap(({ index, cells }) => {
    const local = indexedAddress(index, 0);
    const localPort = local ? index[local.next] : undefined;
    const remote = local ? indexedAddress(index, local.next + 1) : null;
    const remotePort = remote ? index[remote.next] : undefined;
    if (
      !local ||
      !remote ||
      localPort === undefined ||
      remotePort === undefined ||
      numberOf(cells.get(7)) !== established
    )
      return [];
    return [
      {
        localAddress: local.address,
        localPort,
        remoteAddress: remote.address,
        remotePort,
        process: numberOf(cells.get(8)) || null,
      },
    ];
  });
}
