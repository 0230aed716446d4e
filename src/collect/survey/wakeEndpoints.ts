import { createSocket, type Socket } from 'node:dgram';

/** Discard (RFC 863): nobody who is there minds, and who is not is asked for by its gateway all the same. */
export const discardPort = 9;
const stepMs = 50;

export interface WakeOptions {
  /** where the packet for an address really goes */
  placeOf: (address: string) => { address: string; port: number };
  packetsPerSecond: number;
  cancelled: () => boolean;
}

/**
 * Sends one small datagram to each address, so that gateways ask for machines that keep still and their address tables have them when they are read. Nothing is
 * waited for. @returns how many were sent
 */
export async function wakeEndpoints(
  addresses: string[],
  { placeOf, packetsPerSecond, cancelled }: WakeOptions,
): Promise<number> {
  if (addresses.length === 0) return 0;
  const sockets = { 4: null as Socket | null, 6: null as Socket | null };
  const socketFor = (family: 4 | 6): Socket => {
    let socket = sockets[family];
    if (!socket) {
      socket = createSocket(family === 6 ? 'udp6' : 'udp4');
      socket.on('error', () => undefined);
      sockets[family] = socket;
    }
    return socket;
  };
  const perStep = Math.max(1, Math.round((packetsPerSecond * stepMs) / 1000));
  let sent = 0;
  try {
    while (sent < addresses.length && !cancelled()) {
      const some = addresses.slice(sent, sent + perStep);
      await Promise.all(
        some.map(
          (address) =>
            new Promise<void>((resolve) => {
              const place = placeOf(address);
              // an address that cannot be reached is as good as asleep
              socketFor(place.address.includes(':') ? 6 : 4).send(Buffer.alloc(1), place.port, place.address, () =>
                resolve(),
              );
            }),
        ),
      );
      sent += some.length;
      if (sent < addresses.length) await new Promise((resolve) => setTimeout(resolve, stepMs));
    }
  } finally {
    sockets[4]?.close();
    sockets[6]?.close();
  }
  return sent;
}
