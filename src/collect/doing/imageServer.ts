import { createReadStream, lstatSync } from 'node:fs';
import http, { type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';

/** The part of a file that is asked for (RFC 9110 section 14.2, one range): null for all of it, `beyond` where there is no such part. */
export function rangeOf(header: string | undefined, bytes: number): { from: number; to: number } | 'beyond' | null {
  const match = /^bytes=(\d*)-(\d*)$/.exec(header?.trim() ?? '');
  if (!match || (match[1] === '' && match[2] === '')) return null;
  const [, first = '', last = ''] = match;
  const from = first === '' ? Math.max(0, bytes - Number(last)) : Number(first);
  const to = first === '' || last === '' ? bytes - 1 : Math.min(Number(last), bytes - 1);
  if (from >= bytes || from > to) return 'beyond';
  return { from, to };
}

/**
 * Gives images to the devices that were told to fetch them: each by a word of its own that nobody guesses, part by part, and from wherever a device broke off. Nothing else can be had of it.
 */
export class ImageServer {
  #server: Server | null = null;

  /**
   * @param folder the images lie in
   * @param fileOf the name of the file that a word is for; null where it is for none any more
   */
  constructor(
    readonly folder: string,
    readonly fileOf: (word: string) => string | null,
  ) {}

  /** @returns the port it listens on */
  async listen(address: string, port: number): Promise<number> {
    const server = http.createServer((request, response) => void this.#answer(request, response));
    this.#server = server;
    // a device that takes an image and says nothing for so long has gone
    server.setTimeout(60_000);
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, address, resolve);
    });
    return (server.address() as AddressInfo).port;
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

  async #answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const refuse = (status: number, headers = {}) => void response.writeHead(status, headers).end();
    if (request.method !== 'GET' && request.method !== 'HEAD') return refuse(405);
    const word = /^\/images\/([0-9a-f]{32})\/[^/]*$/.exec(request.url ?? '')?.[1];
    const name = word === undefined ? null : this.fileOf(word);
    // what is no name of a file in the folder is no image
    if (name === null || name !== path.basename(name) || name.startsWith('.')) return refuse(404);
    const file = path.join(this.folder, name);
    const told = lstatSync(file, { throwIfNoEntry: false });
    if (!told?.isFile()) return refuse(404);
    const range = rangeOf(request.headers.range, told.size);
    if (range === 'beyond') return refuse(416, { 'content-range': `bytes */${told.size}` });
    const { from, to } = range ?? { from: 0, to: told.size - 1 };
    response.writeHead(range ? 206 : 200, {
      'content-type': 'application/octet-stream',
      'content-length': String(to - from + 1),
      'accept-ranges': 'bytes',
      ...(range && { 'content-range': `bytes ${from}-${to}/${told.size}` }),
    });
    if (request.method === 'HEAD' || told.size === 0) return void response.end();
    try {
      await pipeline(createReadStream(file, { start: from, end: to }), response);
    } catch {
      // whoever took it has gone: it comes again for the rest
      response.destroy();
    }
  }
}
