import https, { type Server } from 'node:https';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { SelfSigned } from './certificate';

export interface ServiceRequest {
  method: string;
  path: string;
  query: URLSearchParams;
  headers: IncomingMessage['headers'];
  body: string;
}

export interface ServiceAnswer {
  status: number;
  headers?: Record<string, string>;
  /** an object is sent as JSON, text as it is */
  body?: object | string;
}

/** What may be wrong with a service, for as long as it is set. */
export interface Disturbance {
  /** so many requests are answered with 503, each saying when to come back */
  busy?: { times: number; retryAfter: string };
  /** requests to these paths are never answered */
  deaf?: RegExp;
  /** requests to these paths are refused for good */
  closed?: RegExp;
  /** so many requests are never answered, whatever their path */
  mute?: { times: number };
  /** answers to these paths come so late */
  slow?: { path: RegExp; ms: number };
  /** answers to these paths break off in the middle */
  cut?: RegExp;
  /** answers to these paths are no JSON */
  garbled?: RegExp;
}

/** A service over real TLS on loopback that answers with JSON. */
export class JsonService {
  #server: Server | null = null;
  disturbance: Disturbance = {};
  /** requests in the order in which they came */
  readonly asked: string[] = [];
  mostAtOnce = 0;
  #atOnce = 0;

  constructor(
    readonly address: string,
    readonly port: number,
    readonly answer: (request: ServiceRequest) => ServiceAnswer,
    /** while it starts anew, nobody is heard */
    readonly isAway: () => boolean = () => false,
  ) {}

  listen(certificate: SelfSigned): Promise<void> {
    return new Promise((resolve, reject) => {
      const server = https.createServer(
        { ...certificate, keepAlive: true },
        (request, response) => void this.#handle(request, response),
      );
      this.#server = server;
      server.once('error', reject);
      server.on('tlsClientError', () => undefined);
      server.listen(this.port, this.address, () => resolve());
    });
  }

  async close(): Promise<void> {
    const server = this.#server;
    this.#server = null;
    if (!server) return;
    await new Promise<void>((resolve) => {
      server.close(() => resolve());
      server.closeAllConnections();
    });
  }

  async #handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    this.mostAtOnce = Math.max(this.mostAtOnce, ++this.#atOnce);
    response.on('close', () => this.#atOnce--);
    const url = new URL(request.url ?? '/', `https://${this.address}`);
    this.asked.push(`${request.method ?? ''} ${url.pathname}${url.search}`);
    let body = '';
    request.setEncoding('utf8');
    for await (const part of request) body += part as string;
    const { busy, closed, deaf, mute, slow, cut, garbled } = this.disturbance;
    if (closed?.test(url.pathname)) {
      response.writeHead(403).end();
      return;
    }
    if (this.isAway()) return void response.destroy();
    if (mute && mute.times-- > 0) return;
    if (deaf?.test(url.pathname)) return;
    if (busy && busy.times > 0) {
      busy.times--;
      response.writeHead(503, { 'retry-after': busy.retryAfter }).end();
      return;
    }
    if (slow?.path.test(url.pathname)) await new Promise((resolve) => setTimeout(resolve, slow.ms));
    const {
      status,
      headers = {},
      body: answered,
    } = this.answer({
      method: request.method ?? 'GET',
      path: url.pathname,
      query: url.searchParams,
      headers: request.headers,
      body,
    });
    const text = answered === undefined ? '' : typeof answered === 'string' ? answered : JSON.stringify(answered);
    const sent = garbled?.test(url.pathname) ? `<html>${text.slice(0, 40)}` : text;
    response.writeHead(status, {
      'content-type': typeof answered === 'string' ? 'text/plain' : 'application/json',
      'content-length': Buffer.byteLength(sent),
      ...headers,
    });
    if (cut?.test(url.pathname)) {
      response.write(sent.slice(0, Math.max(1, sent.length >> 1)));
      setTimeout(() => response.destroy(), 10);
      return;
    }
    response.end(sent);
  }
}

/** `user:password` of a Basic header, or null. */
export function basicLogin(headers: IncomingMessage['headers']): { user: string; password: string } | null {
  const match = /^Basic (.+)$/.exec(headers.authorization ?? '');
  if (!match?.[1]) return null;
  const [user = '', password = ''] = Buffer.from(match[1], 'base64').toString('utf8').split(/:(.*)/s);
  return { user, password };
}
