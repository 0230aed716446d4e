import { addressFromOctets } from '../values/ipAddress';
import { indexedAddress } from './inetAddress';
import { tableRows, type Answered } from './table';
import { numberOf } from './varbind';

/** TCP-MIB (RFC 4022) and UDP-MIB (RFC 4113): who listens, and who talks to whom, each with its process. Older agents have tcpConnTable and udpTable (RFC 2012, RFC 2013): of IPv4, and without processes. */
export const transportTables = {
  tcpListenerEntry: '1.3.6.1.2.1.6.20.1',
  tcpConnectionEntry: '1.3.6.1.2.1.6.19.1',
  udpEndpointEntry: '1.3.6.1.2.1.7.7.1',
  tcpConnEntry: '1.3.6.1.2.1.6.13.1',
  udpEntry: '1.3.6.1.2.1.7.5.1',
} as const;

/** tcpConnState; all else stands in the index. */
export const tcpConnColumns = [1] as const;
/** udpLocalPort, which stands in the index too. */
export const udpColumns = [2] as const;

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

const [listen, established] = [2, 5];

/** Address and port as the older tables have them in their index: four octets and a number. */
function olderEnd(index: number[], at: number): { address: string; port: number } | null {
  const address = addressFromOctets(index.slice(at, at + 4));
  const port = index[at + 4];
  return address === null || port === undefined ? null : { address: address === '0.0.0.0' ? '*' : address, port };
}

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
  // where the newer tables told something of a protocol, the older one has nothing to add
  const isTold = (protocol: Listener['protocol']) => [...found.values()].some((one) => one.protocol === protocol);
  const [tcpTold, udpTold] = [isTold('tcp'), isTold('udp')];
  for (const { index, cells } of tcpTold ? [] : tableRows(transportTables.tcpConnEntry, answered)) {
    const local = index.length === 10 && numberOf(cells.get(1)) === listen ? olderEnd(index, 0) : null;
    if (local) keep('tcp', local.address, local.port, undefined);
  }
  for (const { index } of udpTold ? [] : tableRows(transportTables.udpEntry, answered)) {
    const local = index.length === 5 ? olderEnd(index, 0) : null;
    if (local) keep('udp', local.address, local.port, undefined);
  }
  return [...found.values()];
}

/** Established TCP connections. */
export function parseConnections(answered: Answered): Connection[] {
  const newer = newerConnections(answered);
  return newer.length > 0 ? newer : olderConnections(answered);
}

function olderConnections(answered: Answered): Connection[] {
  return tableRows(transportTables.tcpConnEntry, answered).flatMap(({ index, cells }) => {
    const [local, remote] = index.length === 10 ? [olderEnd(index, 0), olderEnd(index, 5)] : [null, null];
    if (!local || !remote || numberOf(cells.get(1)) !== established) return [];
    return [
      {
        localAddress: local.address,
        localPort: local.port,
        remoteAddress: remote.address,
        remotePort: remote.port,
        process: null,
      },
    ];
  });
}

function newerConnections(answered: Answered): Connection[] {
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
