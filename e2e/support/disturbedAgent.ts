import { createSocket, type Socket } from 'node:dgram';
import { Agent, type AgentSetup } from '../../src/sim/snmp/agent';
import type { ObjectTree } from '../../src/sim/snmp/objects';

/** What is sent in place of one answer: any number of datagrams, each later or from elsewhere if so wished. */
export type Disturbance = (
  answer: Buffer,
  count: number,
  question: Buffer,
) => { octets: Buffer; afterMs?: number; elsewhere?: boolean }[];

/** A stand-in whose answers are disturbed on their way: lost, doubled, late, cut, changed, from another socket. */
export class DisturbedAgent {
  readonly agent: Agent;
  readonly #socket: Socket = createSocket('udp4');
  readonly #elsewhere: Socket = createSocket('udp4');
  #requests = 0;

  constructor(
    readonly setup: AgentSetup,
    objects: ObjectTree,
    readonly disturb: Disturbance,
  ) {
    this.agent = new Agent(setup, objects);
  }

  get requests(): number {
    return this.#requests;
  }

  async listen(otherAddress = '127.201.4.99'): Promise<void> {
    for (const socket of [this.#socket, this.#elsewhere]) socket.on('error', () => undefined);
    this.#socket.on('message', (message, { address, port }) => {
      const answer = this.agent.answer(message);
      this.#requests++;
      if (!answer) return;
      for (const { octets, afterMs, elsewhere } of this.disturb(answer, this.#requests, message)) {
        const send = () => {
          try {
            (elsewhere ? this.#elsewhere : this.#socket).send(octets, port, address);
          } catch {
            // closed meanwhile
          }
        };
        if (afterMs) setTimeout(send, afterMs);
        else send();
      }
    });
    await new Promise<void>((resolve) => this.#socket.bind(this.setup.port, this.setup.address, resolve));
    await new Promise<void>((resolve) => this.#elsewhere.bind(this.setup.port, otherAddress, resolve));
  }

  close(): void {
    for (const socket of [this.#socket, this.#elsewhere]) {
      try {
        socket.close();
      } catch {
        // closed already
      }
    }
  }
}
