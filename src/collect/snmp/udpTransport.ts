import { createSocket, type RemoteInfo, type Socket } from 'node:dgram';
import { randomInt } from 'node:crypto';
import { SourceError } from '../source';
import { BerError } from './wire/berReader';
import { messageNumber } from './wire/communityMessage';
import type { Engine } from './wire/userMessage';

export interface Exchange<Answer> {
  address: string;
  port: number;
  /** the number by which the answer is found; in the octets already */
  number: number;
  octets: Buffer;
  timeoutMs: number;
  /** how often it is sent again */
  retries: number;
  /** what is sent again, under the same number, where that is another question */
  again?: Buffer;
  /** the answer, or null where the octets are none that counts; BerError where they are none at all */
  read: (octets: Buffer) => Answer | null;
  /** sent from a socket of its own, which hears when the machine refuses it (ICMP port unreachable); the shared one is deaf to that */
  alone?: boolean;
}

interface Pending {
  number: number;
  /** when it was sent first */
  sentAt: number;
  address: string;
  port: number;
  octets: Buffer;
  again: Buffer;
  timeoutMs: number;
  sendsLeft: number;
  timer: ReturnType<typeof setTimeout> | undefined;
  /** how deaf this process had been when it was sent */
  deafMs: number;
  /** what came instead of an answer, for the day it runs out of time */
  oddity: string | null;
  own: Socket | null;
  alone: boolean;
  take: (octets: Buffer) => boolean;
  fail: (error: SourceError) => void;
}

const keptNumbers = 8192;
const waitGrowth = 1.5;
const bucketMs = 20;
const receiveBuffer = 8 * 1024 * 1024;

/**
 * All SNMP exchanges of a survey over one socket a family. An answer is taken only from the address that was asked and with the number
 * that was asked with; what else arrives is remembered as an oddity of that address, so that silence can be told from babble.
 */
export class UdpTransport {
  /** engines known by `address port`, shared by all credentials */
  readonly engines = new Map<string, Engine>();
  readonly #sockets = new Map<4 | 6, Promise<Socket>>();
  readonly #pending = new Map<number, Pending>();
  readonly #byAddress = new Map<string, Set<Pending>>();
  readonly #finished = new Set<number>();
  /** when those were sent first that nobody waits for any more */
  readonly #given = new Map<number, { place: string; sentAt: number }>();
  readonly #lateMs = new Map<string, number>();
  readonly #queue: Pending[] = [];
  readonly #packetsPerBucket: number;
  #sentInBucket = 0;
  #deafMs = 0;
  #listenedAt = 0;
  #bucketTimer: ReturnType<typeof setInterval> | undefined;
  #next = randomInt(1, 0x3fffffff);
  #closed = false;
  packetsSent = 0;
  packetsReceived = 0;

  constructor({ packetsPerSecond = 10_000 }: { packetsPerSecond?: number } = {}) {
    this.#packetsPerBucket = Math.max(1, Math.round((packetsPerSecond * bucketMs) / 1000));
  }

  /** A message number that is in nobody's use. */
  newNumber(): number {
    do this.#next = this.#next >= 0x7ffffffe ? 1 : this.#next + 1;
    while (this.#pending.has(this.#next));
    return this.#next;
  }

  /** Sends and waits. @throws SourceError `no answer`, `misbehaving`, `unreachable`, `cancelled`, and `port closed` where it is sent alone */
  exchange<Answer>({
    address,
    port,
    number,
    octets,
    timeoutMs,
    retries,
    again = octets,
    read,
    alone = false,
  }: Exchange<Answer>): Promise<Answer> {
    if (this.#closed) return Promise.reject(new SourceError('cancelled', 'the survey ended'));
    return new Promise((resolve, reject) => {
      const place = `${address} ${port}`;
      const done = () => {
        clearTimeout(pending.timer);
        pending.own?.close();
        this.#pending.delete(number);
        this.#finished.add(number);
        if (this.#finished.size > keptNumbers)
          for (const old of this.#finished) {
            this.#finished.delete(old);
            if (this.#finished.size <= keptNumbers / 2) break;
          }
        const others = this.#byAddress.get(place);
        others?.delete(pending);
        if (others?.size === 0) this.#byAddress.delete(place);
      };
      const pending: Pending = {
        number,
        sentAt: 0,
        address,
        port,
        octets,
        again,
        timeoutMs,
        sendsLeft: retries + 1,
        timer: undefined,
        deafMs: 0,
        oddity: null,
        own: null,
        alone,
        take: (answer) => {
          let taken: Answer | null;
          try {
            taken = read(answer);
          } catch (error) {
            if (error instanceof BerError) {
              pending.oddity = `answers with octets that cannot be read: ${error.message}`;
              return false;
            }
            done();
            reject(error instanceof Error ? error : new Error(String(error)));
            return true;
          }
          if (taken === null) return false;
          done();
          resolve(taken);
          return true;
        },
        fail: (error) => {
          done();
          reject(error);
        },
      };
      this.#pending.set(number, pending);
      const beside = this.#byAddress.get(place);
      if (beside) beside.add(pending);
      else this.#byAddress.set(place, new Set([pending]));
      this.#enqueue(pending);
    });
  }

  close(): void {
    if (this.#closed) return;
    this.#closed = true;
    clearInterval(this.#bucketTimer);
    for (const pending of [...this.#pending.values()]) pending.fail(new SourceError('cancelled', 'the survey ended'));
    for (const socket of this.#sockets.values())
      void socket.then(
        (open) => open.close(),
        () => undefined,
      );
  }

  #enqueue(pending: Pending): void {
    if (this.#sentInBucket < this.#packetsPerBucket && this.#queue.length === 0) this.#send(pending);
    else this.#queue.push(pending);
    if (this.#bucketTimer !== undefined) return;
    this.#listenedAt = performance.now();
    this.#bucketTimer = setInterval(() => this.#refill(), bucketMs);
  }

  #refill(): void {
    const now = performance.now();
    this.#deafMs += Math.max(0, now - this.#listenedAt - 2 * bucketMs);
    this.#listenedAt = now;
    this.#sentInBucket = 0;
    while (this.#queue.length > 0 && this.#sentInBucket < this.#packetsPerBucket) {
      const pending = this.#queue.shift();
      if (pending && pending.sendsLeft > 0) this.#send(pending);
    }
    if (this.#queue.length === 0 && this.#pending.size === 0) {
      clearInterval(this.#bucketTimer);
      this.#bucketTimer = undefined;
    }
  }

  #send(pending: Pending): void {
    this.#sentInBucket++;
    this.packetsSent++;
    pending.sendsLeft--;
    pending.sentAt ||= performance.now();
    pending.deafMs = this.#deafMs;
    pending.timer = setTimeout(() => this.#unanswered(pending), pending.timeoutMs);
    if (pending.alone) return this.#sendAlone(pending);
    this.#socketFor(pending.address).then(
      (socket) => {
        if (this.#closed) return;
        socket.send(pending.octets, pending.port, pending.address, (error) => {
          if (error)
            pending.fail(
              new SourceError(
                'unreachable',
                `this machine has no way to the address (${(error as NodeJS.ErrnoException).code ?? error.message})`,
              ),
            );
        });
      },
      (error: Error) => pending.fail(new SourceError('unreachable', `no socket: ${error.message}`)),
    );
  }

  /** Where there is no room for another socket it goes the way of all others: then nobody hears a refusal. */
  #sendAlone(pending: Pending): void {
    const { address, port, octets } = pending;
    const own = createSocket(address.includes(':') ? 'udp6' : 'udp4');
    pending.own?.close();
    pending.own = own;
    own.on('message', (answer, from) => this.#arrived(answer, from));
    own.on('error', (error: NodeJS.ErrnoException) => {
      if (pending.own !== own || !this.#isWaiting(pending)) return;
      if (error.code === 'ECONNREFUSED')
        return pending.fail(new SourceError('port closed', 'the machine refuses it: nothing listens there'));
      pending.alone = false;
      own.close();
      pending.own = null;
      this.#socketFor(address).then(
        (socket) => socket.send(octets, port, address),
        () => undefined,
      );
    });
    own.connect(port, address, () => {
      if (pending.own === own && this.#isWaiting(pending)) own.send(octets);
    });
  }

  #isWaiting(pending: Pending): boolean {
    return this.#byAddress.get(`${pending.address} ${pending.port}`)?.has(pending) ?? false;
  }

  /** How long the latest answer of an agent took that came when nobody waited for it any more, in milliseconds. */
  lateMs(address: string, port: number): number | null {
    return this.#lateMs.get(`${address} ${port}`) ?? null;
  }

  /** How long this process has read no answers, in all, in milliseconds. */
  get deafMs(): number {
    return this.#deafMs;
  }

  #giveUp({ number, address, port, sentAt }: Pending): void {
    this.#given.set(number, { place: `${address} ${port}`, sentAt });
    for (const old of this.#given.keys()) {
      if (this.#given.size <= keptNumbers) break;
      this.#given.delete(old);
    }
  }

  #late(number: number, from: RemoteInfo): void {
    const given = this.#given.get(number);
    if (given?.place !== `${from.address} ${from.port}`) return;
    this.#given.delete(number);
    this.#lateMs.set(given.place, performance.now() - given.sentAt);
  }

  /** Time in which this process was busy with something else and read no answers is not the agent's: it is granted again. */
  #unanswered(pending: Pending): void {
    const deaf = this.#deafMs + Math.max(0, performance.now() - this.#listenedAt - 2 * bucketMs) - pending.deafMs;
    if (deaf > bucketMs) {
      pending.deafMs += deaf;
      pending.timer = setTimeout(() => this.#unanswered(pending), Math.min(deaf, pending.timeoutMs));
      return;
    }
    if (pending.sendsLeft > 0) {
      pending.timeoutMs *= waitGrowth;
      pending.octets = pending.again;
      this.#enqueue(pending);
      return;
    }
    this.#giveUp(pending);
    pending.fail(
      pending.oddity === null
        ? new SourceError('no answer', 'no answer within the time limit')
        : new SourceError('misbehaving', pending.oddity),
    );
  }

  #socketFor(address: string): Promise<Socket> {
    const family = address.includes(':') ? 6 : 4;
    const known = this.#sockets.get(family);
    if (known) return known;
    const opened = new Promise<Socket>((resolve, reject) => {
      // addresses are numbers already: nothing is to be looked up
      const socket = createSocket({
        type: family === 6 ? 'udp6' : 'udp4',
        lookup: (host, _options, done) => done(null, host, family),
      });
      socket.once('error', reject);
      socket.on('message', (octets, from) => this.#arrived(octets, from));
      socket.bind(0, () => {
        socket.off('error', reject);
        socket.on('error', () => undefined);
        try {
          socket.setRecvBufferSize(receiveBuffer);
        } catch {
          // the system's limit stands
        }
        resolve(socket);
      });
    });
    this.#sockets.set(family, opened);
    return opened;
  }

  #arrived(octets: Buffer, from: RemoteInfo): void {
    this.packetsReceived++;
    const number = messageNumber(octets);
    const pending = number === null ? undefined : this.#pending.get(number);
    const here = pending && pending.port === from.port && pending.address === from.address;
    if (here && pending.take(octets)) return;
    if (pending && !here) {
      pending.oddity ??= `its answers come from ${from.address} port ${from.port}, which was not asked`;
      return;
    }
    // a second copy, or an answer that came after its time: nothing odd
    if (number !== null && this.#finished.has(number)) return this.#late(number, from);
    for (const waiting of this.#byAddress.get(`${from.address} ${from.port}`) ?? []) {
      waiting.oddity ??=
        number === null
          ? 'answers with octets that are no SNMP message'
          : 'answers with a number that nobody asked with';
    }
  }
}
