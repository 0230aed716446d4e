import { FlowDecoder, FlowError, type ExporterState } from '../../core/flow/flowDecoder';
import type { IsListener, Talk } from '../../core/flow/talk';
import { TalkCounter } from '../../core/flow/talkCounter';

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

/** Counts what exporters of flows send. Only those that are let in count: anybody may send to an open port. */
export class FlowReceiver {
  readonly #counters = new Map<string, TalkCounter>();
  readonly #strangers = new Map<string, number>();
  readonly #decoder: FlowDecoder;
  #unreadable = 0;
  #lastFault = '';
  #overflowed = 0;
  /** who listens where, and who is let in; made anew as the estate changes */
  isListener: IsListener = () => false;
  isLetIn: (address: string) => boolean = () => false;
  /** by which address somebody is known who is seen at another, behind a translation */
  knownAs: (address: string) => string = (address) => address;

  constructor() {
    this.#decoder = new FlowDecoder((octets, fields, exporter) => {
      let counter = this.#counters.get(exporter);
      if (!counter) this.#counters.set(exporter, (counter = new TalkCounter(this.isListener)));
      if (counter.size >= mostTalks) this.#overflowed++;
      else counter.addFlow(octets, fields);
    });
  }

  /** Takes a datagram. @param from the address it came from */
  take(from: string, datagram: Uint8Array): void {
    const exporter = this.isLetIn(from) ? from : this.knownAs(from);
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
