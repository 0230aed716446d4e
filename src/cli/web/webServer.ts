import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { createServer as createSecureServer, type Server as SecureServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import { forwardedBy } from '../../core/access/origins';
import { readPair, watchPair, type TlsFiles } from './tls';

/** How the application listens. */
export interface Listening {
  host: string;
  port: number;
  tls: TlsFiles | null;
  /** browsers are told to come over HTTPS alone (RFC 6797): not with a certificate that they have to be talked into */
  strict: boolean;
  /** a proxy of ours stands in front, and says who asks */
  trustProxy: boolean;
}

type Handler = (request: IncomingMessage, response: ServerResponse) => unknown;

const restMs = 75_000;
const wholeMs = 30 * 60_000;
const strictTransport = 'max-age=31536000';

/** Tells the application who asks and over which line; what a client says of it counts for nothing. */
export function mark(
  { headers, socket }: IncomingMessage,
  { tls, trustProxy }: Pick<Listening, 'tls' | 'trustProxy'>,
): void {
  for (const name of Object.keys(headers))
    if (name.startsWith('x-bolide-') && name !== 'x-bolide-attended') delete headers[name];
  const one = (value: string | string[] | undefined) => (Array.isArray(value) ? value.join(',') : value);
  const near = socket.remoteAddress ?? '';
  const forwarded = one(headers['x-forwarded-for']);
  const throughOurs = trustProxy && one(headers['x-forwarded-proto'])?.split(',').at(-1)?.trim() === 'https';
  // who comes through a proxy that nobody told of is no neighbour
  const untold = forwarded !== undefined || headers.forwarded !== undefined || headers.via !== undefined;
  headers['x-bolide-source'] = (trustProxy ? forwardedBy(forwarded) : untold ? `proxy ${near}` : null) ?? near;
  if (tls !== null || throughOurs) headers['x-bolide-secure'] = '1';
}

/** Listens, over TLS where there is a certificate. @throws where the port is taken */
export async function listen(
  handle: Handler,
  listening: Listening,
): Promise<{ server: Server | SecureServer; port: number }> {
  const { host, port, tls, strict } = listening;
  const answer = (request: IncomingMessage, response: ServerResponse) => {
    mark(request, listening);
    if (strict) response.setHeader('strict-transport-security', strictTransport);
    void handle(request, response);
  };
  const server = tls === null ? createServer(answer) : createSecureServer({ ...readPair(tls) }, answer);
  // longer than browsers and proxies rest between two questions: none is lost on a line that is just being closed
  server.keepAliveTimeout = restMs;
  // an archive of a large network comes over slow lines too; who dawdles at the head of a request is cut off sooner
  server.requestTimeout = wholeMs;
  if (tls !== null) {
    const stop = watchPair(tls, (pair) => (server as SecureServer).setSecureContext(pair));
    server.on('close', stop);
  }
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, () => resolve());
  });
  return { server, port: (server.address() as AddressInfo).port };
}
