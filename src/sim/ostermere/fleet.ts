import { onLoopback } from '../walks';
import { Agent } from '../snmp/agent';
import type { AgentUser } from '../snmp/usm';
import { answersOf, engineIdOf } from './answers';
import { contextTrees } from './answersRouting';
import { ostermere } from './estate';

/** What the made-up operator's agents let in. Not secrets: they guard nothing but the sample. */
export const sampleUser: AgentUser = { name: 'olr-survey', authProtocol: 'SHA-256', authPassword: 'signal-lantern-71', privProtocol: 'AES-128', privPassword: 'harbour-bell-19' };
export const sampleCommunity = 'olr-readonly';

/** The agents of Ostermere, one UDP socket each, which can be moved along the story. */
export class Fleet {
  #agents = new Map<string, Agent>();

  constructor(readonly base: string, readonly port: number) {}

  get size(): number {
    return this.#agents.size;
  }

  /** Lets the network be as it is at a step: agents appear, change their answers, fall silent. */
  async moveTo(step: number): Promise<void> {
    const estate = ostermere(step);
    const answers = answersOf(estate);
    const wanted = new Map(estate.devices.map((device) => [engineIdOf(device).toString('hex') + device.name, device]));
    for (const [key, agent] of this.#agents) {
      if (wanted.has(key)) continue;
      agent.close();
      this.#agents.delete(key);
    }
    for (const [key, device] of wanted) {
      const objects = answers.get(device.name);
      if (!objects) continue;
      const known = this.#agents.get(key);
      if (known) {
        known.objects = objects;
        continue;
      }
      const agent = new Agent(
        {
          address: onLoopback(device.address, this.base), port: this.port, engineId: engineIdOf(device),
          communities: device.access === 'v2c' ? [sampleCommunity] : [], users: device.access === 'v3' ? [sampleUser] : [],
        },
        objects,
        contextTrees(device),
      );
      await agent.listen();
      this.#agents.set(key, agent);
    }
  }

  close(): void {
    for (const agent of this.#agents.values()) agent.close();
    this.#agents.clear();
  }
}
