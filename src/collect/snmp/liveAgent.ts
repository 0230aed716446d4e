import type { CommunityCredential, UserCredential } from '../../core/estate/credential';
import type { Varbind } from '../../core/mib/varbind';
import { compareOids, isBelow } from '../../core/values/oid';
import { SourceError, type VarbindSource } from '../source';
import { AgentError, openSession, type AgentPlace, type SnmpSession } from './snmpSession';
import type { UdpTransport } from './udpTransport';
import type { AnsweredVariable } from './wire/pdu';

/** A table longer than this is taken for one that never ends. */
const rowLimit = 500_000;
/** Octets that an answer may have beside its variables. */
const room = 1330;
/** A variable of a table has about so many octets, until its own answers tell better. */
const octetsPerVariable = 26;
const mostRepetitions = 120;
const mostInOneGet = 40;

interface Cursor {
  root: string;
  oid: string;
}

/** A live SNMP agent, asked in the fewest round trips that its answers allow. */
export class LiveAgent implements VarbindSource {
  readonly #session: SnmpSession;
  #octetsPerVariable = octetsPerVariable;

  constructor(readonly transport: UdpTransport, readonly place: AgentPlace, readonly credential: CommunityCredential | UserCredential, readonly mostRows = rowLimit) {
    this.#session = openSession(transport, place, credential);
  }

  inContext(name: string): LiveAgent {
    const { credential } = this;
    const asked = credential.kind === 'snmp3' ? { ...credential, context: name } : { ...credential, community: `${credential.community}@${name}` };
    return new LiveAgent(this.transport, this.place, asked, this.mostRows);
  }

  /** One GETNEXT behind each table's root: what comes back lies in the table if it has anything. */
  async present(entries: string[]): Promise<Set<string>> {
    const found = new Set<string>();
    for (let at = 0; at < entries.length; at += mostInOneGet) {
      const some = entries.slice(at, at + mostInOneGet);
      const answers = await this.#firstBehind(some);
      some.forEach((entry, place) => {
        const answer = answers[place];
        // an answer cut short says nothing of the rest: it is asked
        if (!answer || (!answer.end && isBelow(entry, answer.oid))) found.add(entry);
      });
    }
    return found;
  }

  async #firstBehind(oids: string[]): Promise<AnsweredVariable[]> {
    try {
      return await this.#next(oids.map((oid) => ({ root: oid, oid })), 1);
    } catch (error) {
      if (!(error instanceof AgentError) || error.word !== 'tooBig' || oids.length === 1) throw error;
      const half = Math.ceil(oids.length / 2);
      return [...(await this.#firstBehind(oids.slice(0, half))), ...(await this.#firstBehind(oids.slice(half)))];
    }
  }

  async get(oids: string[]): Promise<Varbind[]> {
    const found: Varbind[] = [];
    for (let at = 0; at < oids.length; at += mostInOneGet) found.push(...(await this.#getSome(oids.slice(at, at + mostInOneGet))));
    return found;
  }

  async #getSome(oids: string[]): Promise<Varbind[]> {
    if (oids.length === 0) return [];
    try {
      return (await this.#session.ask({ type: 'get', oids })).variables.flatMap(varbindOf);
    } catch (error) {
      if (!(error instanceof AgentError)) throw error;
      // version 1 refuses the whole question for one object that is not there
      if (error.word === 'noSuchName' && error.index >= 1 && error.index <= oids.length) return this.#getSome(oids.filter((_, at) => at !== error.index - 1));
      if (error.word === 'tooBig' && oids.length > 1) {
        const half = Math.ceil(oids.length / 2);
        return [...(await this.#getSome(oids.slice(0, half))), ...(await this.#getSome(oids.slice(half)))];
      }
      throw error;
    }
  }

  async columns(entry: string, columns: readonly number[]): Promise<Varbind[]> {
    const found: Varbind[] = [];
    let cursors: Cursor[] = columns.map((column) => ({ root: `${entry}.${column}`, oid: `${entry}.${column}` }));
    let most = mostRepetitions;
    while (cursors.length > 0) {
      const fitting = Math.floor(room / (this.#octetsPerVariable * cursors.length));
      const repetitions = Math.max(1, Math.min(most, fitting));
      let variables: AnsweredVariable[];
      try {
        variables = await this.#next(cursors, repetitions);
      } catch (error) {
        // agents say genErr too where an answer does not fit
        if (error instanceof AgentError && (error.word === 'tooBig' || (error.word === 'genErr' && repetitions > 1)) && (repetitions > 1 || cursors.length > 1)) {
          if (repetitions > 1) most = Math.floor(repetitions / 2);
          else {
            // not even one row fits: column by column
            for (const { root } of cursors) for (const varbind of await this.columns(entry, [Number(root.slice(entry.length + 1))])) found.push(varbind);
            return found;
          }
          continue;
        }
        if (error instanceof SourceError) throw new SourceError(error.fault, error.message, found);
        throw error;
      }
      if (variables.length === 0) throw new SourceError('misbehaving', `the agent answered nothing behind ${cursors[0]?.oid ?? entry}`, found);
      cursors = advance(cursors, variables, found);
      if (found.length > this.mostRows) throw new SourceError('misbehaving', `the table ${entry} has more than ${this.mostRows} values: it seems never to end`, found);
    }
    return found;
  }

  close(): void {
    // the socket is the survey's, not ours
  }

  async #next(cursors: Cursor[], repetitions: number): Promise<AnsweredVariable[]> {
    const oids = cursors.map(({ oid }) => oid);
    if (this.#session.version === 1) {
      try {
        return (await this.#session.ask({ type: 'getNext', oids })).variables;
      } catch (error) {
        // version 1 says noSuchName at the end of what it has
        if (!(error instanceof AgentError) || error.word !== 'noSuchName') throw error;
        const ended = error.index >= 1 && error.index <= oids.length ? error.index - 1 : 0;
        if (cursors.length === 1) return [{ oid: oids[0] ?? '', value: null, end: true }];
        const rest = await this.#next(cursors.filter((_, at) => at !== ended), 1);
        return [...rest.slice(0, ended), { oid: oids[ended] ?? '', value: null, end: true }, ...rest.slice(ended)];
      }
    }
    const { variables, size } = await this.#session.ask({ type: 'getBulk', oids, repetitions });
    if (variables.length >= 8) this.#octetsPerVariable = Math.max(12, (this.#octetsPerVariable + 3 * (size / variables.length)) / 4);
    return variables;
  }
}

const varbindOf = ({ oid, value }: AnsweredVariable): Varbind[] => (value === null ? [] : [{ oid, value }]);

/** Takes the rows of an answer, column by column, and says where to go on. @throws SourceError where the agent goes back */
function advance(cursors: Cursor[], variables: AnsweredVariable[], found: Varbind[]): Cursor[] {
  const width = cursors.length;
  const going: Cursor[] = [];
  cursors.forEach(({ root, oid: from }, column) => {
    let last = from;
    for (let at = column; at < variables.length; at += width) {
      const variable = variables[at];
      if (!variable) break;
      if (variable.end || !isBelow(root, variable.oid)) return;
      if (compareOids(variable.oid, last) <= 0) throw new SourceError('misbehaving', `after ${last} the agent went back to ${variable.oid}: the table would never end`, found);
      last = variable.oid;
      if (variable.value !== null) found.push({ oid: variable.oid, value: variable.value });
    }
    going.push({ root, oid: last });
  });
  // an answer shorter than one row leaves the last columns where they were; the next one begins with fewer of them done
  return going;
}
