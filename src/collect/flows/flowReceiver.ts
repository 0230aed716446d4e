import { createSocket, type Socket } from 'node:dgram';
import { FlowDecoder, FlowError, type ExporterState } from '../../core/flow/flowDecoder';
import type { IsListener, Talk } from '../../core/flow/talk';
import { TalkCounter } from '../../core/flow/talkCounter';

const receiveBuffer = 8 * 1024 * 1024;
/** Addresses that send without being let in are named, so many of them at most. */
const mostStrangers = 50;
/** So many conversations of one exporter are held until they are written: a flood must not fill the memory. */
const mostTalks = 300_000;

/** What came in so far, as it is told. */
export interface ReceiverState {
  exporters: ExporterState[];
  /** who sends and is not let in, with how many datagrams */
  strangers: { address: string; datagrams: number }[];
  /** datagrams that could not be read, and why the last one could not */
  unreadable: number;
  lastFault: string;
  /** records that were too many to be counted */
  overflowed: number;
}

/** Hears exporters of flows over UDP. Only those that are let in count: anybody may send to an open port. */
export class FlowReceiver {
  readonly #counters = new Map<string, TalkCounter>();
  readonly #strangers = new Map<string, number>();
  readonly #decoder: FlowDecoder;
  #socket: Socket | null = null;
  #unreadable = 0;
  #lastFault = '';
  #overflowed = 0;
  /** who listens where, and who is let in; made anew as the estate changes */
  isListener: IsListener = () => false;
  isLetIn: (address: string) => boolean = () => false;

  constructor() {
    this.#decoder = new FlowDecoder((octets, fields, exporter) => {
      let counter = this.#counters.get(exporter);
      if (!counter) this.#counters.set(exporter, (counter = new TalkCounter(this.isListener)));
      if (counter.size >= mostTalks) this.#overflowed++;
      else counter.addFlow(octets, fields);
    });
  }

  /** @returns the port it listens on @throws where the port is taken */
  async listen(address: string, port: number): Promise<number> {
    const socket = createSocket(address.includes(':') ? 'udp6' : 'udp4');
    socket.on('message', (datagram, from) => this.#take(datagram, from.address));
    await new Promise<void>((resolve, reject) => {
      socket.once('error', reject);
      socket.bind(port, address, () => {
        socket.off('error', reject);
        resolve();
      });
    });
    try {
      socket.setRecvBufferSize(receiveBuffer);
    } catch {
      // the system's limit stands
    }
    this.#socket = socket;
    return socket.address().port;
  }

  close(): void {
    this.#socket?.close();
    this.#socket = null;
  }

  #take(datagram: Buffer, from: string): void {
    const exporter = from.replace(/^::ffff:/, '');
    if (!this.isLetIn(exporter)) {
      if (this.#strangers.size < mostStrangers || this.#strangers.has(exporter))
        this.#strangers.set(exporter, (this.#strangers.get(exporter) ?? 0) + 1);
      return;
    }
    try {
      this.#decoder.decode(exporter, datagram);
    } catch (error) {
      if (!(error instanceof FlowError)) throw error;
      this.#unreadable++;
      this.#lastFault = `${exporter}: ${error.message}`;
    }
  }

  /** What was said since the last time, by exporter. */
  taken(): { exporter: string; talks: Talk[] }[] {
    const all = [...this.#counters].map(([exporter, counter]) => ({ exporter, talks: counter.end() }));
    this.#counters.clear();
    return all.filter(({ talks }) => talks.length > 0);
  }

  state(): ReceiverState {
    return {
      exporters: this.#decoder.states(),
      strangers: [...this.#strangers].map(([address, datagrams]) => ({ address, datagrams })),
      unreadable: this.#unreadable,
      lastFault: this.#lastFault,
      overflowed: this.#overflowed,
    };
  }
}
