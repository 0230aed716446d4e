import https from 'node:https';
import type { Duplex } from 'node:stream';
import tls, { type TLSSocket } from 'node:tls';
import type { Json } from '../../core/resources/json';
import { isLoopback } from '../../core/values/ipAddress';
import type { Budget } from '../budget';
import type { CertificateMemory } from './certificates';
import { ResourceError } from './resourceSource';

export interface ServicePlace {
  /** where packets go */
  address: string;
  port: number;
  /** what the service is called in certificates and the pin list: the address before translation */
  name: string;
}

export interface ClientOptions {
  /** how long a service may say nothing */
  timeoutMs: number;
  /** how long the connection may take; as long as an answer if not given */
  connectMs?: number;
  /** how often more a connection is tried that nobody took; a lost packet is not to make a known service silent */
  connectRetries?: number;
  /** requests at the same time to one service */
  concurrency: number;
  certificates: CertificateMemory;
  /** certificates of authorities, PEM: with them a certificate must be signed and valid, without them it is pinned */
  authorities?: string;
  cancelled: () => boolean;
  /** how long to wait in all for a service that says it is busy */
  patienceMs?: number;
  /** what the service may cost in all; nothing is counted where there is none */
  budget?: Budget;
  /** how long one page may take, however steadily it trickles */
  pageMs?: number;
}

export interface Answer {
  status: number;
  headers: Record<string, string>;
  body: Json;
}

interface Asked {
  method?: 'GET' | 'POST' | 'DELETE';
  headers?: Record<string, string>;
  body?: Json;
  /** text that is no JSON is given as text */
  text?: boolean;
}

const largestBody = 8 * 1024 * 1024;
const defaultPatienceMs = 20_000;
const defaultPageMs = 60_000;
/** a service that says it is busy, but for no time at all, is busy for so long */
const leastWaitMs = 500;
/** Each further try to connect waits this much longer. */
const waitGrowth = 2;

const isReading = ({ method }: Asked): boolean => method === undefined || method === 'GET';
/** So often a question is sent on: a slash that is missing at the end, a resource that moved. */
const mostHops = 4;

/**
 * HTTPS with one service: few connections that are kept, a look at the certificate before the first octet of a request is sent,
 * bounded answers, and patience with 503 and 429 as Retry-After says (RFC 9110 section 10.2.3).
 */
export class HttpsClient {
  readonly #agent: https.Agent;
  #patienceMs: number;

  constructor(
    readonly place: ServicePlace,
    readonly options: ClientOptions,
  ) {
    this.#agent = new VerifyingAgent(place, options);
    this.#patienceMs = options.patienceMs ?? defaultPatienceMs;
  }

  /** @throws ResourceError for everything but an answer below 400 */
  async ask(where: string, asked: Asked = {}): Promise<Answer> {
    let path = where;
    for (let hops = 0; ;) {
      if (this.options.cancelled()) throw new ResourceError('cancelled', 'not asked: the survey was cancelled');
      const answer = await this.#paid(() => this.#twice(path, asked));
      if (answer.status < 300) return answer;
      const elsewhere = isReading(asked) && hops++ < mostHops ? this.#withinOrigin(answer, path) : null;
      if (elsewhere !== null) {
        path = elsewhere;
        continue;
      }
      if (answer.status !== 503 && answer.status !== 429) throw faultOf(answer, path);
      const waitMs = Math.max(leastWaitMs, retryAfterMs(answer.headers['retry-after']));
      if (waitMs > this.#patienceMs)
        throw new ResourceError('busy', `says it is busy (${answer.status}) and asks to come back later`);
      this.#patienceMs -= waitMs;
      const pause = () => new Promise((resolve) => setTimeout(resolve, waitMs));
      await (this.options.budget?.waitFor(pause) ?? pause());
    }
  }

  close(): void {
    this.#agent.destroy();
  }

  /** Where an answer sends one, if that is another path of the same service (RFC 9110 section 15.4): the login goes to nobody else. */
  #withinOrigin({ status, headers }: Answer, path: string): string | null {
    if (![301, 302, 303, 307, 308].includes(status) || headers.location === undefined) return null;
    const { name, port } = this.place;
    const origin = `https://${name.includes(':') ? `[${name}]` : name}:${port}`;
    try {
      const target = new URL(headers.location, `${origin}${path}`);
      return target.origin === new URL(origin).origin ? `${target.pathname}${target.search}` : null;
    } catch {
      return null;
    }
  }

  /** @throws ResourceError before anything is asked that the service may not cost any more */
  async #paid(work: () => Promise<Answer>): Promise<Answer> {
    const { budget } = this.options;
    if (!budget) return work();
    const { spent } = budget;
    if (spent !== null) throw new ResourceError('over budget', `was left: ${spent}`);
    return budget.waitFor(work);
  }

  /** A question that was lost is asked once more, as an agent is asked again; what changes something never is. */
  async #twice(path: string, asked: Asked): Promise<Answer> {
    try {
      return await this.#once(path, asked);
    } catch (error) {
      if (!isReading(asked) || !(error instanceof ResourceError) || error.fault !== 'mute' || this.options.cancelled())
        throw error;
      return await this.#once(path, asked);
    }
  }

  #once(path: string, { method = 'GET', headers = {}, body, text = false }: Asked): Promise<Answer> {
    const sent = body === undefined ? undefined : Buffer.from(JSON.stringify(body));
    return new Promise((resolve, reject) => {
      const { address, port, name } = this.place;
      const { budget, pageMs = defaultPageMs } = this.options;
      const request = https.request(
        {
          agent: this.#agent,
          host: address,
          port,
          path: escapedPath(path),
          method,
          headers: {
            accept: 'application/json, application/yang-data+json',
            ...(sent && { 'content-type': 'application/json', 'content-length': String(sent.length) }),
            host: name.includes(':') ? `[${name}]` : name,
            ...headers,
          },
        },
        (response) => {
          const parts: Buffer[] = [];
          let size = 0;
          response.on('data', (part: Buffer) => {
            size += part.length;
            budget?.octets(part.length);
            if (size > largestBody)
              request.destroy(
                new ResourceError('too large', `answers ${path} with more than ${largestBody / 1024 / 1024} MB`),
              );
            else parts.push(part);
          });
          response.on('end', () => {
            budget?.answer();
            try {
              resolve({
                status: response.statusCode ?? 0,
                headers: plainHeaders(response.headers),
                body: readBody(Buffer.concat(parts), response.statusCode ?? 0, path, text),
              });
            } catch (error) {
              reject(error instanceof Error ? error : new Error(String(error)));
            }
          });
          response.on('error', (error) => reject(networkFault(error, path, address)));
          response.on('aborted', () => reject(new ResourceError('mute', `broke off in the middle of ${path}`)));
        },
      );
      // the limit counts silence, not the whole of a slow page
      request.setTimeout(this.options.timeoutMs, () => {
        const heard = request.socket?.bytesRead;
        // what arrived while this process was busy with something else is seen first
        setImmediate(() => {
          if (request.socket?.bytesRead === heard)
            request.destroy(new ResourceError('mute', 'no answer within the time limit'));
        });
      });
      // nor does it help to say a little all the time
      const leftMs = budget?.leftMs ?? pageMs;
      const tooLong =
        budget && leftMs < pageMs
          ? new ResourceError('over budget', `was left: ${budget.outOfTime}`)
          : new ResourceError('mute', `took more than ${pageMs / 1000} s for ${path}`);
      const longest = setTimeout(() => request.destroy(tooLong), Math.max(1, Math.min(pageMs, leftMs)));
      request.on('close', () => clearTimeout(longest));
      request.on('error', (error) => reject(networkFault(error, path, address)));
      request.end(sent);
    });
  }
}

/** Links of careless services hold blanks and letters that a request line may not: they are escaped as RFC 3986 has it, what is escaped already stays. */
function escapedPath(path: string): string {
  return path.replace(/[^\x21-\x7e]/gu, (letter) =>
    [...Buffer.from(letter)].map((octet) => `%${octet.toString(16).toUpperCase().padStart(2, '0')}`).join(''),
  );
}

function plainHeaders(headers: NodeJS.Dict<string | string[]>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(headers).map(([name, value]) => [name, Array.isArray(value) ? value.join(', ') : (value ?? '')]),
  );
}

function readBody(octets: Buffer, status: number, path: string, text: boolean): Json {
  if (octets.length === 0) return null;
  const written = octets.toString('utf8');
  if (text) return written;
  try {
    return JSON.parse(written) as Json;
  } catch {
    // what an error page says does not matter
    if (status >= 300) return null;
    throw new ResourceError('malformed', `answers ${path} with something that is no JSON`);
  }
}

function faultOf({ status, headers }: Answer, path: string): ResourceError {
  if (status === 401) return new ResourceError('unauthorised', 'rejects the user or the password');
  if (status === 403) return new ResourceError('forbidden', `does not let this user read ${path}`);
  if (status === 404 || status === 405 || status === 410 || status === 501)
    return new ResourceError('absent', `has no ${path}`);
  if (status >= 300 && status < 400)
    return new ResourceError(
      'failed',
      `sends ${path} elsewhere (${headers.location ?? status}), which is not followed`,
    );
  return new ResourceError('failed', `answers ${path} with the error ${status}`);
}

function networkFault(error: Error & { code?: string }, path: string, address: string): ResourceError {
  if (error instanceof ResourceError) return error;
  switch (error.code) {
    // on the machine itself every address refuses what nobody listens for: that tells nothing
    case 'ECONNREFUSED':
      return isLoopback(address)
        ? new ResourceError('no answer', 'nothing listens for HTTPS')
        : new ResourceError('refused', 'is refused: nothing listens for it');
    case 'ETIMEDOUT':
    case 'EHOSTUNREACH':
    case 'ENETUNREACH':
      return new ResourceError('no answer', 'no answer within the time limit');
    case 'ECONNRESET':
    case 'EPIPE':
      return new ResourceError('mute', `broke off the connection at ${path}`);
    default:
      return new ResourceError('failed', `HTTPS failed: ${error.message}`);
  }
}

/** Seconds or a date; a service that does not say is asked again after a second. */
function retryAfterMs(header: string | undefined): number {
  if (header === undefined) return 1000;
  const seconds = Number(header);
  if (Number.isFinite(seconds)) return Math.max(0, seconds * 1000);
  const date = Date.parse(header);
  return Number.isNaN(date) ? 1000 : Math.max(0, date - Date.now());
}

const secureContexts = new Map<string, tls.SecureContext>();

/** Reading the authorities costs milliseconds, and thousands of addresses have nobody to be secured from: one context for all. */
function secureContextFor(authorities: string | undefined): tls.SecureContext {
  const key = authorities ?? '';
  let context = secureContexts.get(key);
  if (!context)
    secureContexts.set(
      key,
      (context = tls.createSecureContext({
        minVersion: 'TLSv1.2',
        ...(authorities !== undefined && { ca: authorities }),
      })),
    );
  return context;
}

/** Opens connections and hands them on only once their certificate is trusted. */
class VerifyingAgent extends https.Agent {
  constructor(
    readonly place: ServicePlace,
    readonly verifying: ClientOptions,
  ) {
    super({ keepAlive: true, maxSockets: verifying.concurrency, maxFreeSockets: verifying.concurrency });
  }

  override createConnection(
    options: https.RequestOptions,
    done?: (error: Error | null, stream: Duplex) => void,
  ): Duplex | null | undefined {
    let told = false;
    const tell = (error: Error | null, socket: TLSSocket) => {
      if (told) return;
      told = true;
      done?.(error, socket);
    };
    const { timeoutMs, connectMs = timeoutMs, connectRetries = 0 } = this.verifying;
    this.#connect(options, connectMs, connectRetries, tell);
    return undefined;
  }

  #connect(
    options: https.RequestOptions,
    waitMs: number,
    retries: number,
    tell: (error: Error | null, socket: TLSSocket) => void,
  ): void {
    const { authorities, timeoutMs, cancelled } = this.verifying;
    let again = false;
    const socket = tls.connect(
      {
        host: options.host ?? '',
        port: Number(options.port),
        rejectUnauthorized: false,
        secureContext: secureContextFor(authorities),
        minVersion: 'TLSv1.2',
        // whose certificate it is, is judged below by the name before translation
        checkServerIdentity: () => undefined,
      },
      () => {
        const fault = this.#judge(socket);
        if (fault) {
          socket.destroy();
          tell(fault, socket);
        } else {
          socket.setTimeout(0);
          tell(null, socket);
        }
      },
    );
    socket.setTimeout(timeoutMs, () =>
      socket.destroy(new ResourceError(socket.connecting ? 'no answer' : 'mute', 'no answer within the time limit')),
    );
    const giveUp = () => {
      if (!socket.connecting) return;
      again = retries > 0 && !cancelled();
      socket.destroy(new ResourceError('no answer', 'no answer within the time limit'));
      if (again) this.#connect(options, waitMs * waitGrowth, retries - 1, tell);
    };
    // what arrived while this process was busy with something else is seen first
    const unconnected = setTimeout(() => setImmediate(giveUp), waitMs);
    socket.on('connect', () => clearTimeout(unconnected));
    socket.on('error', (error) => again || tell(error, socket));
    socket.on('close', () => clearTimeout(unconnected));
    socket.on(
      'close',
      () => again || tell(new ResourceError('mute', 'closed the connection before it was secured'), socket),
    );
  }

  #judge(socket: TLSSocket): ResourceError | null {
    const { certificates, authorities } = this.verifying;
    const { name, port } = this.place;
    if (authorities !== undefined) {
      if (!socket.authorized)
        return new ResourceError(
          'certificate not trusted',
          `shows a certificate that the authorities do not cover: ${String(socket.authorizationError)}`,
        );
      const misnamed = tls.checkServerIdentity(name, socket.getPeerCertificate());
      return misnamed
        ? new ResourceError('certificate not trusted', `shows a certificate for somebody else: ${misnamed.message}`)
        : null;
    }
    const { fingerprint256, subject } = socket.getPeerCertificate();
    if (!fingerprint256) return new ResourceError('certificate not trusted', 'shows no certificate');
    const pinned = certificates.pinned(name, port);
    if (pinned === null) {
      certificates.pin(name, port, fingerprint256, String(subject?.CN ?? ''));
      return null;
    }
    if (pinned === fingerprint256) return null;
    certificates.offered(name, port, fingerprint256);
    return new ResourceError(
      'certificate changed',
      `shows another certificate than before (SHA-256 ${fingerprint256.slice(0, 23)}…)`,
    );
  }
}
