import { createSocket, type Socket } from 'node:dgram';

const receiveBuffer = 8 * 1024 * 1024;
/** Datagrams are handed on together, so often, or when there are so many octets of them. */
const handOnMs = 20;
const lotOctets = 256 * 1024;
/** What was handed on and not taken in yet: beyond it datagrams are dropped, and counted. */
const mostWaiting = 256 * 1024 * 1024;

/** Datagrams in the order they came: where each begins, from whom it is. */
export interface DatagramLot {
  octets: Uint8Array<ArrayBuffer>;
  ends: number[];
  from: string[];
}

/** Does nothing but take datagrams from the system and hand them on: whoever counts and writes may be busy for seconds, and nothing is lost meanwhile. */
export class FlowSocket {
  #socket: Socket | null = null;
  #octets = new Uint8Array(lotOctets);
  #used = 0;
  #ends: number[] = [];
  #from: string[] = [];
  #timer: NodeJS.Timeout | null = null;
  #waiting = 0;
  /** datagrams that came while too much waited */
  dropped = 0;

  constructor(readonly handOn: (lot: DatagramLot) => void) {}

  /** @returns the port it listens on @throws where the port is taken */
  async listen(address: string, port: number): Promise<number> {
    const socket = createSocket(address.includes(':') ? 'udp6' : 'udp4');
    socket.on('message', (datagram, from) => this.#take(datagram, from.address.replace(/^::ffff:/, '')));
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
    this.#flush();
  }

  /** So many octets that were handed on are taken in. */
  taken(octets: number): void {
    this.#waiting -= octets;
  }

  #take(datagram: Buffer, from: string): void {
    if (this.#waiting > mostWaiting) {
      this.dropped++;
      return;
    }
    if (this.#used + datagram.length > this.#octets.length) this.#flush();
    this.#octets.set(datagram, this.#used);
    this.#used += datagram.length;
    this.#ends.push(this.#used);
    this.#from.push(from);
    this.#timer ??= setTimeout(() => this.#flush(), handOnMs);
  }

  #flush(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    if (this.#ends.length === 0) return;
    this.#waiting += this.#used;
    const lot = { octets: this.#octets.slice(0, this.#used), ends: this.#ends, from: this.#from };
    [this.#used, this.#ends, this.#from] = [0, [], []];
    this.handOn(lot);
  }
}
