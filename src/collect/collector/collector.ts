import { randomUUID } from 'node:crypto';
import { gzipSync } from 'node:zlib';
import { collectorProtocol, type Delivery, type WorkAnswer, type WorkShare } from '../../core/collectors/protocol';
import type { Credential } from '../../core/estate/credential';
import { readScope } from '../../core/estate/scope';
import type { CollectedVisit } from '../../core/estate/visit';
import { newLetterBox } from '../../store/sealedLetter';
import { AddressReader } from '../survey/addressReader';
import { SeenCertificates } from './seenCertificates';
import { LinkError, type ServerLink } from './serverLink';
import type { Spool } from './spool';

const askMs = 1000;
const deliverMs = 200;
const longestPauseMs = 30_000;
/** What was collected is put on disk after so many visits, octets or milliseconds, whichever comes first. */
const visitsTogether = 200;
const octetsTogether = 1_000_000;
const flushMs = 2000;
const fullDiskMs = 1000;
/** Shares in hand at once: the next is there when the slowest device of the last is still being read. */
const sharesAtOnce = 2;

/** One share in hand. */
interface InHand {
  work: WorkShare;
  open: number;
  over: boolean;
}

/** A survey engine at another site: fetches shares of surveys from its server, asks the addresses, and delivers what it heard, each thing once. */
export class Collector {
  readonly #inHand = new Map<number, InHand>();
  #lastUsage = { at: performance.now(), usage: process.cpuUsage() };

  constructor(
    readonly link: ServerLink,
    readonly spool: Spool,
    readonly version: string,
    readonly stopped: AbortSignal,
    readonly tell: (words: string) => void,
  ) {}

  /** Until it is stopped. What is in the spool then is delivered by the next one. */
  async run(): Promise<void> {
    await Promise.all([this.#askForWork(), this.#deliver()]);
  }

  async #askForWork(): Promise<void> {
    const trouble = new Trouble(this.tell);
    // what a collector before this one left is to arrive before anything is asked again
    while (!this.stopped.aborted && this.spool.size().files > 0 && this.#inHand.size === 0) {
      await this.#report(trouble, false);
      await this.#pause(trouble.pauseMs(askMs));
    }
    while (!this.stopped.aborted) {
      const got = await this.#report(trouble, this.#inHand.size < sharesAtOnce);
      if (got) void this.#perform(got);
      await this.#pause(got ? 0 : trouble.pauseMs(askMs));
    }
  }

  async #report(trouble: Trouble, wants: boolean): Promise<InHand | null> {
    const box = newLetterBox();
    let answer: WorkAnswer;
    try {
      answer = await this.link.work({
        protocol: collectorProtocol,
        version: this.version,
        key: box.publicKey,
        inHand: [...this.#inHand.keys()],
        wants,
        load: this.#load(),
      });
    } catch (error) {
      if (!(error instanceof LinkError)) throw error;
      if (!this.stopped.aborted) trouble.happened(error);
      return null;
    }
    trouble.passed();
    for (const share of this.#inHand.values()) if (answer.over.includes(share.work.survey)) share.over = true;
    if (!answer.share) return null;
    const { share } = answer;
    const inHand: InHand = { work: share, open: share.addresses.length, over: false };
    this.#inHand.set(share.share, inHand);
    this.tell(`survey ${share.survey}: ${share.addresses.length} addresses to ${share.kind}`);
    this.#credentials.set(inHand, box.open(share.credentials) as Credential[]);
    return inHand;
  }

  readonly #credentials = new WeakMap<InHand, Credential[]>();

  /** One share, from its addresses to the spool. */
  async #perform(inHand: InHand): Promise<void> {
    const { work } = inHand;
    const read = readScope(work.scope);
    const certificates = new SeenCertificates(work.pinned);
    const cancelled = () => inHand.over || this.stopped.aborted;
    let visits: CollectedVisit[] = [];
    let octets = 0;
    // one after the other: the last must be on disk after all others
    let writing = Promise.resolve();
    const flush = (last: boolean): Promise<void> => {
      const some = visits;
      visits = [];
      octets = 0;
      if (some.length > 0 || last) writing = writing.then(() => write(some, last));
      // what fails is told at the end of the share
      writing.catch(() => undefined);
      return writing;
    };
    const write = async (some: CollectedVisit[], last: boolean) => {
      const delivery: Delivery = {
        protocol: collectorProtocol,
        id: randomUUID(),
        survey: work.survey,
        share: work.share,
        last,
        visits: some,
        certificates: certificates.take(),
      };
      await this.#keep(gzipSync(JSON.stringify(delivery)));
      inHand.open -= some.length;
    };
    const regularly = setInterval(() => void flush(false), flushMs);
    try {
      if ('mistakes' in read)
        throw new Error(
          `the scope is not understood here: ${read.mistakes.map(({ path, message }) => `${path}: ${message}`).join('; ')}`,
        );
      const reader = new AddressReader({
        scope: read.scope,
        credentials: this.#credentials.get(inHand) ?? [],
        signatures: work.signatures,
        certificates,
        cancelled,
        hintOf: (address) => work.hints[address] ?? {},
      });
      try {
        if (work.kind === 'wake') await reader.wake(work.addresses);
        else {
          await reader.readAll(work.addresses, (visit) => {
            visits.push(visit);
            octets += visit.answers.length > 0 ? JSON.stringify(visit.answers).length : 200;
            if (visits.length >= visitsTogether || octets >= octetsTogether) void flush(false);
          });
        }
      } finally {
        reader.close();
      }
      // a share that was broken off is asked again from where it stands
      await flush(!cancelled());
    } catch (error) {
      this.tell(`survey ${work.survey}: ${(error as Error).message}`);
    } finally {
      clearInterval(regularly);
      this.#inHand.delete(work.share);
    }
  }

  /** Puts a delivery on disk. A full disk is waited for: what is in memory is not lost meanwhile. */
  async #keep(body: Buffer): Promise<void> {
    for (let told = false; ; told = true) {
      try {
        this.spool.add(body);
        return;
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
        if (!told) this.tell('the disk of the spool is full: waiting for room');
        await new Promise((resolve) => setTimeout(resolve, fullDiskMs));
      }
    }
  }

  async #deliver(): Promise<void> {
    const trouble = new Trouble(() => undefined);
    while (!this.stopped.aborted) {
      const next = this.spool.oldest();
      if (!next) {
        await this.#pause(deliverMs);
        continue;
      }
      try {
        await this.link.deliver(next.body);
        trouble.passed();
        this.spool.remove(next);
      } catch (error) {
        if (!(error instanceof LinkError)) throw error;
        if (this.stopped.aborted) return;
        if (error.fault === 'refused') {
          this.tell(`the server refuses a delivery, which is kept in ${this.spool.folder}/refused: ${error.message}`);
          this.spool.refuse(next);
        } else {
          trouble.happened(error);
          await this.#pause(trouble.pauseMs(deliverMs));
        }
      }
    }
  }

  #load() {
    const { files, bytes } = this.spool.size();
    const now = performance.now();
    const { user, system } = process.cpuUsage(this.#lastUsage.usage);
    const processor = (user + system) / 1000 / Math.max(1, now - this.#lastUsage.at);
    this.#lastUsage = { at: now, usage: process.cpuUsage() };
    return {
      addresses: [...this.#inHand.values()].reduce((sum, { open }) => sum + Math.max(0, open), 0),
      spooled: files,
      spooledBytes: bytes,
      memoryBytes: process.memoryUsage.rss(),
      processor: Math.round(processor * 100) / 100,
    };
  }

  #pause(milliseconds: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(done, milliseconds);
      const { stopped } = this;
      stopped.addEventListener('abort', done, { once: true });
      function done() {
        clearTimeout(timer);
        stopped.removeEventListener('abort', done);
        resolve();
      }
    });
  }
}

/** Tells what is wrong once, not at every try, and tries less often the longer it lasts. */
class Trouble {
  #words = '';
  #times = 0;

  constructor(readonly tell: (words: string) => void) {}

  happened({ fault, message }: LinkError): void {
    this.#times++;
    const words =
      fault === 'unreachable'
        ? `the server cannot be reached: ${message}`
        : fault === 'busy'
          ? `the server is busy: ${message}`
          : message;
    if (words !== this.#words) this.tell(words);
    this.#words = words;
  }

  passed(): void {
    if (this.#words !== '') this.tell('the server answers again');
    this.#words = '';
    this.#times = 0;
  }

  pauseMs(usual: number): number {
    return this.#times === 0 ? usual : Math.min(longestPauseMs, Math.max(usual, 500 * 2 ** Math.min(this.#times, 8)));
  }
}
