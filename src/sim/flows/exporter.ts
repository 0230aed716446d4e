import { createSocket, type Socket } from 'node:dgram';
import { bothWays, dataOfIpfix, ipfix, templateOfIpfix, version5, type SaidTalk } from './flowExports';

/** Talk that an exporter sees, again and again. */
export interface SeenTalk {
  client: string;
  server: string;
  port: number;
  protocol: number;
  /** octets asked and answered each time */
  says: [asked: number, answered: number];
}

const templateId = 300;
/** Templates are told anew now and then: whoever hears may have begun later (RFC 7011, 8.1). */
const templateEvery = 10;
const largestPacket = 1200;

/** A device that exports what it forwards, as IPFIX or as NetFlow 5, from an address of its own. */
export class FlowExporter {
  #socket: Socket | null = null;
  #timer: NodeJS.Timeout | null = null;
  #sequence = 0;
  #rounds = 0;

  /** @param from the address it sends from, on this machine */
  constructor(
    readonly from: string,
    readonly version: 5 | 10,
    readonly talk: readonly SeenTalk[],
  ) {}

  /** Sends at once, and again every so many seconds. */
  async start(to: { address: string; port: number }, everySeconds: number): Promise<void> {
    const socket = createSocket('udp4');
    await new Promise<void>((resolve, reject) => {
      socket.once('error', reject);
      socket.bind(0, this.from, () => {
        socket.off('error', reject);
        resolve();
      });
    });
    this.#socket = socket;
    // nobody hears yet, or not any more: an exporter does not mind
    socket.on('error', () => undefined);
    const send = () => {
      for (const datagram of this.datagrams(Date.now() / 1000)) socket.send(datagram, to.port, to.address);
    };
    send();
    this.#timer = setInterval(send, everySeconds * 1000);
  }

  stop(): void {
    if (this.#timer) clearInterval(this.#timer);
    this.#socket?.close();
    this.#socket = null;
  }

  /** What it would send at a moment, in seconds since the epoch. */
  datagrams(now: number): Buffer[] {
    const said = this.talk.map(({ client, server, port, protocol, says: [asked, answered] }): SaidTalk => ({
      client,
      server,
      port,
      protocol,
      packets: { toServer: Math.ceil(asked / largestPacket), toClient: Math.ceil(answered / largestPacket) },
      octets: { toServer: asked, toClient: answered },
    }));
    const flows = bothWays(said, now - 30, (nth) => 49_200 + ((nth * 131 + this.#rounds * 17) % 16_000));
    const round = this.#rounds++;
    if (flows.length === 0) return [];
    if (this.version === 5) {
      const datagram = version5(flows, now, this.#sequence);
      this.#sequence += flows.length;
      return [datagram];
    }
    const sets = [
      ...(round % templateEvery === 0 ? [templateOfIpfix(templateId)] : []),
      dataOfIpfix(templateId, flows),
    ];
    const datagram = ipfix(sets, now, this.#sequence);
    this.#sequence += flows.length;
    return [datagram];
  }
}
