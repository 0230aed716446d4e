import { approves, notApproved } from '../../core/estate/approval';
import type { CommunityCredential, UserCredential } from '../../core/estate/credential';
import { SourceError } from '../source';
import type { UdpTransport } from './udpTransport';
import { readCommunityMessage, writeCommunityMessage } from './wire/communityMessage';
import { errorWords, pduTag, type AnsweredVariable, type Question } from './wire/pdu';
import {
  ForgedError,
  readUserMessage,
  writeDiscovery,
  writeUserMessage,
  type Engine,
  type UserAnswer,
} from './wire/userMessage';
import { UserSecurity } from './wire/userSecurity';

export interface AgentPlace {
  address: string;
  port: number;
  timeoutMs: number;
  retries: number;
}

export interface SessionAnswer {
  variables: AnsweredVariable[];
  /** octets of the datagram */
  size: number;
}

/** An error status of the agent (RFC 3416 section 3). */
export class AgentError extends SourceError {
  constructor(
    readonly status: number,
    readonly index: number,
  ) {
    super('failed', `the agent answered with the error ${errorWords[status] ?? `number ${status}`}`);
  }
  get word(): string {
    return errorWords[this.status] ?? '';
  }
}

/** Questions to one agent with one credential. */
export interface SnmpSession {
  readonly version: 1 | 2 | 3;
  /** @throws SourceError, AgentError */
  ask(question: Question): Promise<SessionAnswer>;
}

export function openSession(
  transport: UdpTransport,
  place: AgentPlace,
  credential: CommunityCredential | UserCredential,
): SnmpSession {
  if (!approves(credential, place)) throw new SourceError('not approved', notApproved([credential], place).reason);
  return credential.kind === 'snmp3'
    ? new UserSession(transport, place, credential)
    : new CommunitySession(transport, place, credential);
}

class CommunitySession implements SnmpSession {
  readonly version: 1 | 2;

  constructor(
    readonly transport: UdpTransport,
    readonly place: AgentPlace,
    readonly credential: CommunityCredential,
  ) {
    this.version = credential.kind === 'snmp1' ? 1 : 2;
  }

  async ask(question: Question): Promise<SessionAnswer> {
    const number = this.transport.newNumber();
    const version = this.version === 1 ? 0 : 1;
    const [octets, again] = [question, narrowed(question)].map((asked) =>
      writeCommunityMessage(version, this.credential.community, number, asked),
    ) as [Buffer, Buffer];
    return this.transport.exchange({
      ...this.place,
      number,
      octets,
      again,
      read: (answer) => {
        const message = readCommunityMessage(answer);
        if (message.version !== version || message.pdu.tag !== pduTag.response) return null;
        if (message.pdu.errorStatus !== 0) throw new AgentError(message.pdu.errorStatus, message.pdu.errorIndex);
        return { variables: message.pdu.variables, size: answer.length };
      },
    });
  }
}

/** What is asked where the question itself was not answered. */
const narrowed = (question: Question): Question =>
  question.type === 'get' && question.narrower ? { type: 'get', oids: question.narrower } : question;

/** The engine at a place, as it tells anybody (RFC 3414 section 4). @throws SourceError */
export function discover(transport: UdpTransport, place: AgentPlace, alone = false): Promise<Engine> {
  const number = transport.newNumber();
  return transport.exchange({
    ...place,
    number,
    octets: writeDiscovery(number),
    alone,
    read: (answer): Engine | null => {
      const { messageId, engine: told, pdu } = readUserMessage(answer, () => null);
      if (messageId !== number || pdu.tag !== pduTag.report || told.id.length === 0) return null;
      return { ...told, readAt: Date.now() };
    },
  });
}

/** The counters of RFC 3414 section 5 whose report says why a message was not processed. */
const usmStats = '1.3.6.1.6.3.15.1.1.';
const securities = new WeakMap<UserCredential, Map<string, UserSecurity>>();
const timeWindowTries = 2;
/** msgFlags of a message that is signed. */
const authFlag = 1;

class UserSession implements SnmpSession {
  readonly version = 3;
  #heard = false;
  /** somebody said that a question was out of time, and did not sign it */
  #unsignedTime = false;

  constructor(
    readonly transport: UdpTransport,
    readonly place: AgentPlace,
    readonly credential: UserCredential,
  ) {}

  async ask(question: Question): Promise<SessionAnswer> {
    let rediscovered = false;
    for (let windowTries = 0; ;) {
      const engine = await this.#engine();
      const security = this.#security(engine.id);
      const number = this.transport.newNumber();
      const [octets, again] = [question, narrowed(question)].map((asked) =>
        writeUserMessage(
          number,
          engine,
          Date.now(),
          this.credential.user,
          this.credential.context ?? '',
          security,
          asked,
        ),
      ) as [Buffer, Buffer];
      const { answer, size } = await this.#exchange(number, octets, again, security);
      this.#heard = true;
      this.#keepTime(engine, answer);
      if (answer.pdu.tag === pduTag.response) {
        if (answer.pdu.errorStatus !== 0) throw new AgentError(answer.pdu.errorStatus, answer.pdu.errorIndex);
        return { variables: answer.pdu.variables, size };
      }
      const counter = answer.pdu.variables[0]?.text ?? '';
      switch (counter.startsWith(usmStats) ? counter.slice(usmStats.length, usmStats.length + 1) : '') {
        case '1':
          throw new SourceError('wrong credential', 'the agent does not accept this security level for the user');
        case '2':
          // the agent started again, or its clock jumped: its own time stands in the report
          if (windowTries++ >= timeWindowTries)
            throw new SourceError('not in time window', 'the agent says the message is outside its time window');
          this.#newTime(engine, answer);
          break;
        case '3':
          throw new SourceError('unknown user', 'the agent does not know this user');
        case '4':
          if (rediscovered) throw new SourceError('misbehaving', 'the agent does not know its own engine id');
          rediscovered = true;
          this.transport.engines.delete(this.#place);
          break;
        case '5':
          throw new SourceError('wrong digest', 'the agent rejects the authentication password');
        case '6':
          throw new SourceError(
            'cannot decrypt',
            'the agent cannot decrypt: the privacy password or protocol is wrong',
          );
        default:
          throw new SourceError('misbehaving', `the agent reports ${counter || 'nothing'}`);
      }
    }
  }

  /** Most agents drop without a word what they cannot decrypt or may not show: silence right after discovery says more than silence. */
  async #exchange(
    number: number,
    octets: Buffer,
    again: Buffer,
    security: UserSecurity,
  ): Promise<{ answer: UserAnswer; size: number }> {
    try {
      return await this.transport.exchange({
        ...this.place,
        number,
        octets,
        again,
        read: (received) => this.#read(received, number, security),
      });
    } catch (error) {
      if (this.#unsignedTime && error instanceof SourceError && ['no answer', 'misbehaving'].includes(error.fault))
        throw new SourceError(
          'not in time window',
          'something says that the message is outside the time window of the agent, and does not sign it',
        );
      if (this.#heard || !(error instanceof SourceError) || error.fault !== 'no answer') throw error;
      throw new SourceError('mute', 'the agent answers discovery, but not the question');
    }
  }

  get #place(): string {
    return `${this.place.address} ${this.place.port}`;
  }

  /** The engine behind the address; asked for once, however many sessions want it. */
  async #engine(): Promise<Engine> {
    const known = this.transport.engines.get(this.#place);
    if (known) return known;
    const engine = await discover(this.transport, this.place);
    const meanwhile = this.transport.engines.get(this.#place);
    if (meanwhile) return meanwhile;
    this.transport.engines.set(this.#place, engine);
    return engine;
  }

  /** Keys cost hashing: they are kept with the credential, by engine. */
  #security(engineId: Buffer): UserSecurity {
    let byEngine = securities.get(this.credential);
    if (!byEngine) securities.set(this.credential, (byEngine = new Map()));
    const name = engineId.toString('hex');
    let security = byEngine.get(name);
    if (!security) byEngine.set(name, (security = new UserSecurity(this.credential, engineId)));
    return security;
  }

  #read(received: Buffer, number: number, security: UserSecurity): { answer: UserAnswer; size: number } | null {
    let answer: UserAnswer;
    try {
      answer = readUserMessage(received, (engineId) => (engineId.length > 0 ? this.#security(engineId) : null));
    } catch (error) {
      // a message that somebody else signed is not there at all
      if (error instanceof ForgedError) return null;
      throw error;
    }
    if (answer.messageId !== number) return null;
    // a report of the time that is not signed may be anybody's: it must not move the clock of the engine (RFC 3414 section 3.2, step 7)
    if (
      answer.pdu.tag === pduTag.report &&
      !answer.authentic &&
      (security.flags & authFlag) !== 0 &&
      answer.pdu.variables[0]?.text.startsWith(`${usmStats}2`)
    ) {
      this.#unsignedTime = true;
      return null;
    }
    // a response must be as well protected as the question; reports may be plain (RFC 3414 section 3.1)
    if (
      answer.pdu.tag === pduTag.response &&
      ((answer.flags & security.flags) !== security.flags || answer.pdu.requestId !== number)
    )
      return null;
    return { answer, size: received.length };
  }

  /** RFC 3414 section 3.2, step 7b: the newest time that an authentic message told. */
  #keepTime(engine: Engine, { authentic, engine: told }: UserAnswer): void {
    if (!authentic || !told.id.equals(engine.id)) return;
    const expected = engine.time + (Date.now() - engine.readAt) / 1000;
    if (told.boots > engine.boots || (told.boots === engine.boots && told.time > expected))
      this.#newTime(engine, { engine: told });
  }

  #newTime(engine: Engine, { engine: told }: Pick<UserAnswer, 'engine'>): void {
    engine.boots = told.boots;
    engine.time = told.time;
    engine.readAt = Date.now();
  }
}
