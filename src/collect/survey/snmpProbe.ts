import { approves } from '../../core/estate/approval';
import type { CommunityCredential, Credential, UserCredential } from '../../core/estate/credential';
import type { Harvest } from '../../core/estate/harvest';
import type { Scope } from '../../core/estate/scope';
import { isLoopback } from '../../core/values/ipAddress';
import { translate } from '../../core/values/translation';
import { readSystem } from '../agent/readDevice';
import { LiveAgent } from '../snmp/liveAgent';
import { discover } from '../snmp/snmpSession';
import type { UdpTransport } from '../snmp/udpTransport';
import { SourceError, type VarbindSource } from '../source';
import type { outcomeOf } from './outcome';

/** An agent that was heard, and how. */
export interface Probed {
  source: VarbindSource;
  system: Harvest['system'];
  credential: string;
}
export type CredentialFault = Parameters<typeof outcomeOf>[0][number];

/** Communities that equipment of all makers is delivered with. */
const deliveredCommunities = ['public', 'private'];

/** How long a credential further up in the order may still answer once another was heard. */
const graceMs = 250;

const isSnmp = (credential: Credential): credential is CommunityCredential | UserCredential =>
  credential.kind === 'snmp1' || credential.kind === 'snmp2c' || credential.kind === 'snmp3';

/** Asks addresses who they are, with each SNMP credential of a scope. */
export class SnmpProbe {
  readonly #usable: (CommunityCredential | UserCredential)[];

  /** @param refusalsOfLoopback whether a refusal of a loopback address counts, as it does for any other */
  constructor(
    readonly transport: UdpTransport,
    readonly scope: Scope,
    credentials: Credential[],
    readonly cancelled: () => boolean,
    readonly refusalsOfLoopback = false,
  ) {
    this.#usable = credentials.filter(isSnmp);
  }

  #placeOf(address: string): { address: string; port: number } {
    return translate(address, this.scope.translations, this.scope.port);
  }

  /** The credential that worked last time alone; else all at once, and of those that are heard the first in the scope's order. */
  async probe(address: string, remembered: string | undefined): Promise<Probed | CredentialFault[]> {
    const place = this.#placeOf(address);
    const usable = this.#usable.filter((credential) => approves(credential, place));
    const first = usable.filter(({ name }) => name === remembered);
    const rest = usable.filter(({ name }) => name !== remembered);
    const faults: CredentialFault[] = [];
    if (usable.length === 0) return faults;
    const beside = first.length === 0 ? this.#signOfLife(address) : null;
    for (const group of [first, rest]) {
      if (group.length === 0 || this.cancelled()) continue;
      const heard = await firstHeard(group.map((credential) => this.#try(address, credential, faults)));
      if (heard) return heard;
    }
    const sign = await (beside ?? this.#signOfLife(address));
    return sign ? [...faults, sign] : faults;
  }

  /**
   * Whether anybody is there who lets none of the credentials in: an agent tells its engine to whoever asks by SNMPv3, and a machine without an agent may refuse the
   * datagram. Asked beside the credentials, so that it costs a packet and no time.
   */
  async #signOfLife(address: string): Promise<CredentialFault | null> {
    const { scope } = this;
    const place = this.#placeOf(address);
    // this machine itself refuses for every loopback address: that tells nothing
    const hearsRefusals = !isLoopback(place.address) || this.refusalsOfLoopback;
    if (!hearsRefusals && this.#usable.some(({ kind }) => kind === 'snmp3')) return null;
    try {
      await discover(this.transport, { ...place, timeoutMs: scope.timeoutMs, retries: 0 }, hearsRefusals);
      return { credential: '', fault: 'other version', message: 'speaks SNMPv3' };
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      return error.fault === 'port closed' ? { credential: '', fault: error.fault, message: error.message } : null;
    }
  }

  /** Those of the communities that equipment is delivered with which the address still answers to. Each is tried once. */
  async defaultCommunities(address: string): Promise<string[]> {
    const { scope } = this;
    const place = this.#placeOf(address);
    const answers = await Promise.all(
      deliveredCommunities.map(async (community) => {
        try {
          return await readSystem(
            new LiveAgent(
              this.transport,
              { ...place, timeoutMs: scope.timeoutMs, retries: 0 },
              { name: community, kind: 'snmp2c', community },
            ),
          );
        } catch (error) {
          if (!(error instanceof SourceError)) throw error;
          return null;
        }
      }),
    );
    return deliveredCommunities.filter((_, at) => answers[at]);
  }

  async #try(
    address: string,
    credential: CommunityCredential | UserCredential,
    faults: CredentialFault[],
  ): Promise<Probed | null> {
    const { scope } = this;
    const place = this.#placeOf(address);
    const source = new LiveAgent(
      this.transport,
      { ...place, timeoutMs: scope.timeoutMs, retries: scope.retries },
      credential,
    );
    try {
      const system = await readSystem(source);
      if (system) return { source, system, credential: credential.name };
      faults.push({
        credential: credential.name,
        fault: 'failed',
        message: 'answers, but tells nothing of itself: the system group is hidden',
      });
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      faults.push({ credential: credential.name, fault: error.fault, message: error.message });
    }
    return null;
  }
}

/** Of several tries that run at once: the first in order that is heard, without waiting long for those before it once one was. */
async function firstHeard(tries: Promise<Probed | null>[]): Promise<Probed | null> {
  const heard: (Probed | null | undefined)[] = tries.map(() => undefined);
  const all = Promise.all(
    tries.map(async (attempt, at) => {
      heard[at] = await attempt;
    }),
  );
  const any = Promise.any(tries.map(async (attempt) => (await attempt) ?? Promise.reject(new Error('not heard'))));
  try {
    await any;
  } catch {
    await all;
    return null;
  }
  for (let at = 0; at < tries.length && heard[at] !== undefined; at++) if (heard[at]) return heard[at] ?? null;
  await Promise.race([all, new Promise((resolve) => setTimeout(resolve, graceMs))]);
  return heard.find((found) => found) ?? null;
}
