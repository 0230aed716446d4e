import { randomUUID } from 'node:crypto';
import { CaptureError, CaptureReader } from '../../core/flow/captureReader';
import { PacketFields, readPacket } from '../../core/flow/packet';
import { protocolName, type IsListener, type Talk } from '../../core/flow/talk';
import { mostInBatch, type TalkBatch } from '../../core/flow/talkBatch';
import { TalkCounter } from '../../core/flow/talkCounter';
import { LinkError, type ServerLink } from '../collector/serverLink';
import type { Spool } from '../collector/spool';

/** So many conversations and addresses are held until they are written: a flood must not fill the memory. */
const mostTalks = 300_000;
const mostAddresses = 500_000;
const listenersMs = 300_000;
const [firstPauseMs, longestPauseMs] = [1000, 30_000];
/** So much may wait on disk; what is older than the newest of it is given up, and told. */
const mostWaiting = 2000;

export interface AgentOptions {
  link: ServerLink;
  spool: Spool;
  /** where it captures, as the server calls it */
  point: string;
  everySeconds: number;
  /** what is wanted of what is heard */
  wants: (talk: Talk) => boolean;
  /** whether what no known listener explains is sent too */
  sendsUnknown: boolean;
  /** called with each conversation as it is sent */
  show: (talk: Talk) => void;
  tell: (words: string) => void;
  stopped: AbortSignal;
}

/**
 * Hears packets at a host or a mirror port, counts who talks to whom, and sends it to the server in batches, each of which counts once. While the server is away batches wait on disk. What no known listener explains stays here
 * unless it is asked for: an agent sees talk of others.
 */
export class CaptureAgent {
  #counter = new TalkCounter();
  #packets = 0;
  #overflowed = 0;
  #heldBack = 0;
  #known: ReadonlySet<string> | null = null;
  #knownAt = 0;
  #pauseMs = firstPauseMs;
  #troubled = '';

  constructor(readonly options: AgentOptions) {}

  /** Asks who listens where, before anything is heard: by that it is told who serves. A server that is away is asked again later. */
  async prepare(): Promise<void> {
    try {
      await this.#listeners();
    } catch (error) {
      if (!(error instanceof LinkError)) throw error;
    }
  }

  /** Reads packets from a capture that comes in pieces. @throws CaptureError where it is none, or is damaged */
  async hear(source: AsyncIterable<Buffer>): Promise<void> {
    const fields = new PacketFields();
    const reader = new CaptureReader(({ octets, start, end, at, linkType }) => {
      this.#packets++;
      if (!(at > 0) || !readPacket(octets, start, end, linkType, fields)) return;
      if (this.#counter.size >= mostTalks) this.#overflowed++;
      else this.#counter.add(octets, fields, at);
    });
    const timer = setInterval(() => this.#spoolTaken(), this.options.everySeconds * 1000);
    try {
      for await (const piece of source) reader.push(piece);
      reader.end();
    } catch (error) {
      // what stopped it in the midst of a packet is no damage
      if (!(error instanceof CaptureError) || !this.options.stopped.aborted) throw error;
    } finally {
      clearInterval(timer);
      this.#spoolTaken(true);
    }
  }

  /** Sends what waits, until it is stopped. */
  async deliver(): Promise<void> {
    while (!this.options.stopped.aborted) {
      const sent = await this.deliverOne();
      if (sent !== 'sent') await this.#pause(sent === 'nothing' ? firstPauseMs : this.#pauseMs);
    }
  }

  /** Sends the batch that waits longest. @returns whether it was sent, there was none, or the server did not take it */
  async deliverOne(): Promise<'sent' | 'nothing' | 'failed'> {
    const { spool, link, tell, show } = this.options;
    const oldest = spool.oldest();
    if (!oldest) return 'nothing';
    try {
      const batch = JSON.parse(oldest.body.toString()) as TalkBatch;
      const talks = await this.#mayBeSent(batch.talks);
      const held = batch.talks.length - talks.length;
      await link.talk({ ...batch, talks, heldBack: batch.heldBack + this.#heldBack + held });
      this.#heldBack += held;
      for (const talk of talks) show(talk);
      spool.remove(oldest);
      this.#pauseMs = firstPauseMs;
      if (this.#troubled) tell(`the server takes batches again; ${spool.size().files} wait`);
      this.#troubled = '';
      return 'sent';
    } catch (error) {
      if (!(error instanceof LinkError)) throw error;
      if (error.fault === 'refused') {
        tell(`the server refused a batch, which is kept aside in ${spool.folder}/refused: ${error.message}`);
        spool.refuse(oldest);
        return 'sent';
      }
      if (this.#troubled !== error.message)
        tell(`the server does not take batches: ${error.message}; they wait in ${spool.folder}`);
      this.#troubled = error.message;
      this.#pauseMs = Math.min(longestPauseMs, this.#pauseMs * 2);
      return 'failed';
    }
  }

  /** Of some talk what may be sent: all of it, or what a known listener explains. */
  async #mayBeSent(talks: readonly Talk[]): Promise<Talk[]> {
    const isListener = await this.#listeners();
    return talks.flatMap((talk): Talk[] => {
      const { server, port, protocol } = talk;
      if (isListener(server, protocol, port)) return [{ ...talk, basis: 'listener' }];
      return this.options.sendsUnknown ? [talk] : [];
    });
  }

  /** Who listens where, asked for anew now and then. @throws LinkError where it was never told */
  async #listeners(): Promise<IsListener> {
    if (this.#known === null || performance.now() - this.#knownAt > listenersMs) {
      try {
        const { listeners } = await this.options.link.listeners();
        this.#known = new Set(listeners.map((one) => one.join(' ')));
        this.#knownAt = performance.now();
      } catch (error) {
        if (this.#known === null || !(error instanceof LinkError)) throw error;
      }
    }
    const known = this.#known;
    this.#counter.isListener = (address, protocol, port) => known.has(`${address} ${protocol} ${port}`);
    return this.#counter.isListener;
  }

  #spoolTaken(isLast = false): void {
    const { spool, point, everySeconds, wants, tell } = this.options;
    const { isListener } = this.#counter;
    const isFull = isLast || this.#counter.addresses > mostAddresses;
    const talks = (isFull ? this.#counter.end() : this.#counter.taken()).filter(wants);
    if (isFull) this.#counter = new TalkCounter(isListener);
    // one that holds nothing says that the agent is there
    for (let from = 0; from === 0 || from < talks.length; from += mostInBatch) {
      const batch: TalkBatch = {
        id: randomUUID(),
        point,
        everySeconds,
        packets: this.#packets,
        overflowed: this.#overflowed,
        heldBack: 0,
        talks: talks.slice(from, from + mostInBatch),
      };
      try {
        for (let waiting = spool.size().files; waiting >= mostWaiting; waiting--) {
          const oldest = spool.oldest();
          if (!oldest) break;
          tell(`more than ${mostWaiting} batches wait: the oldest is given up`);
          spool.remove(oldest);
        }
        spool.add(Buffer.from(JSON.stringify(batch)));
      } catch (error) {
        this.#overflowed += batch.talks.length;
        tell(`a batch of ${batch.talks.length} conversations could not be kept: ${(error as Error).message}`);
      }
    }
  }

  #pause(ms: number): Promise<void> {
    const { stopped } = this.options;
    return new Promise((resolve) => {
      const over = () => {
        clearTimeout(timer);
        stopped.removeEventListener('abort', over);
        resolve();
      };
      const timer = setTimeout(over, ms);
      if (stopped.aborted) over();
      else stopped.addEventListener('abort', over);
    });
  }
}

/** A conversation in a line, as it is sent. */
export const talkWords = ({ client, server, port, protocol, events, packets, octets, basis }: Talk): string =>
  `${protocolName(protocol)} ${client} → ${server}${port > 0 ? `, port ${port}` : ''}: ${events} ${events === 1 ? 'connection' : 'connections'}, ${packets.toServer + packets.toClient} packets, ${octets.toServer} octets to the server and ${octets.toClient} back; who serves is known by ${basis === 'listener' ? 'its listener' : basis === 'opening' ? 'who opened it' : 'its port'}`;
