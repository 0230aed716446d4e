import type { CommunityCredential, UserCredential } from '../../core/estate/credential';
import type { TableRows } from '../../core/mib/table';
import type { Assignment, Varbind } from '../../core/mib/varbind';
import { mostRootsAtOnce, SourceError, type VarbindSource } from '../source';
import type { Budget } from '../budget';
import { AgentError, openSession, type AgentPlace, type SessionAnswer, type SnmpSession } from './snmpSession';
import type { UdpTransport } from './udpTransport';
import { AnsweredColumn, JoinedColumns } from './tableColumns';
import { ObjectName, orderBehind, sharedOctets } from './wire/objectName';
import { AnsweredVariable, type Question } from './wire/pdu';

/** A table longer than this is taken for one that never ends. */
const rowLimit = 500_000;
/** Octets that the variables of an answer may have in one datagram of an Ethernet, beside its head. */
const room = 1400;
/** The longest datagram that needs no fragments there, with the security of version 3. */
const wholeDatagram = 1472;
/** An agent that ends its answers where the datagram does is asked for somewhat more than fits, so that none goes half empty. */
const overfull = 1.25;
/** A variable of a table has about so many octets, until its own answers tell better. */
const octetsPerVariable = 26;
const mostRepetitions = 120;
const mostInOneGet = 40;
/** Of an agent that drops what is wide, so many are asked for at once. */
const fewAtOnce = 10;
/** So many of its silences are waited for until the rest is taken for dropped too. */
const mostSilences = 4;
/** What every agent has (RFC 1213, RFC 3418). */
const mib2 = '1.3.6.1.2.1.';
/** Errors that name the object they are about (RFC 3416 section 4.2.1; RFC 1157 section 4.1.2). */
const refusesOne = new Set(['noSuchName', 'genErr', 'authorizationError', 'noAccess', 'resourceUnavailable']);

/** A column that is still being read, and how far. */
interface Cursor {
  column: AnsweredColumn;
  last: ObjectName;
}

/** A live SNMP agent, asked in the fewest round trips that its answers allow. */
export class LiveAgent implements VarbindSource {
  readonly #session: SnmpSession;
  /** what it may cost; nothing is counted where there is none */
  budget: Budget | null = null;
  #octetsPerVariable = octetsPerVariable;
  #endsByItself = false;
  /** asked by GETNEXT alone */
  #plainly: boolean;
  /** whether it answers to less, once that was tried; parts that are read side by side ask it together */
  #less: Promise<boolean> | null = null;
  /** columns are asked one after the other */
  #narrowly = false;
  /** another number whenever it is asked otherwise than before */
  #way = 0;
  readonly unheard = new Set<string>();

  constructor(
    readonly transport: UdpTransport,
    readonly place: AgentPlace,
    readonly credential: CommunityCredential | UserCredential,
    readonly mostRows = rowLimit,
  ) {
    this.#session = openSession(transport, place, credential);
    this.#plainly = this.#session.version === 1;
  }

  inContext(name: string): LiveAgent {
    const { credential } = this;
    const asked =
      credential.kind === 'snmp3'
        ? { ...credential, context: name }
        : { ...credential, community: `${credential.community}@${name}` };
    const agent = new LiveAgent(this.transport, this.place, asked, this.mostRows);
    agent.budget = this.budget;
    return agent;
  }

  lateMs(): number | null {
    return this.transport.lateMs(this.place.address, this.place.port);
  }

  /** @throws SourceError; `over budget` before anything is asked that the device may not cost any more */
  async #ask(question: Question): Promise<SessionAnswer> {
    const { budget } = this;
    if (!budget) return this.#session.ask(question);
    const { spent } = budget;
    if (spent !== null) throw new SourceError('over budget', `left: ${spent}`);
    const answer = await budget.waitFor(() => this.#session.ask(question));
    budget.octets(answer.size);
    budget.answer();
    return answer;
  }

  /** One GETNEXT behind each table's root: what comes back lies in the table if it has anything. */
  async present(entries: string[]): Promise<Set<string>> {
    try {
      return await this.#presentOf(entries, mostRootsAtOnce);
    } catch (error) {
      // silence to a wide question says nothing of narrow ones
      if (!isSilence(error) || entries.length <= fewAtOnce) throw error;
      return this.#presentPiecemeal(entries);
    }
  }

  /** What is silent to a question of all is asked in lots, those under foreign roots apart; a lot that is silent too is halved until it is known which of it is dropped. */
  async #presentPiecemeal(entries: string[]): Promise<Set<string>> {
    const found = new Set<string>();
    const foreign = entries.filter((entry) => !entry.startsWith(mib2));
    const lots = [entries.filter((entry) => entry.startsWith(mib2)), foreign].flatMap((some) =>
      Array.from({ length: Math.ceil(some.length / fewAtOnce) }, (_, at) =>
        some.slice(at * fewAtOnce, (at + 1) * fewAtOnce),
      ),
    );
    let silences = 0;
    for (let lot = lots.shift(); lot; lot = lots.shift()) {
      if (silences >= mostSilences) {
        lot.forEach((entry) => this.unheard.add(entry));
        continue;
      }
      try {
        for (const entry of await this.#presentOf(lot, fewAtOnce)) found.add(entry);
      } catch (error) {
        if (!isSilence(error)) throw error;
        // one that answers none of what everybody has answers nothing
        if (++silences === 1 && found.size === 0) throw error;
        if (lot.length === 1) lot.forEach((entry) => this.unheard.add(entry));
        else {
          const half = Math.ceil(lot.length / 2);
          lots.unshift(lot.slice(0, half), lot.slice(half));
        }
      }
    }
    return found;
  }

  async #presentOf(entries: string[], atOnce: number): Promise<Set<string>> {
    const found = new Set<string>();
    for (let at = 0; at < entries.length; at += atOnce) {
      const some = entries.slice(at, at + atOnce);
      const answers = await this.#firstBehind(some);
      some.forEach((entry, place) => {
        const answer = answers[place];
        if (answer && !answer.end) expectFurther(answer, ObjectName.of(entry));
        // an answer cut short says nothing of the rest: it is asked
        if (!answer || (!answer.end && answer.isBelow(ObjectName.of(entry)))) found.add(entry);
      });
    }
    return found;
  }

  async #firstBehind(oids: string[]): Promise<AnsweredVariable[]> {
    try {
      return await this.#next(
        oids.map((oid) => ObjectName.of(oid)),
        1,
      );
    } catch (error) {
      if (!(error instanceof AgentError) || error.word !== 'tooBig' || oids.length === 1) throw error;
      const half = Math.ceil(oids.length / 2);
      return [...(await this.#firstBehind(oids.slice(0, half))), ...(await this.#firstBehind(oids.slice(half)))];
    }
  }

  async get(oids: string[], narrower?: string[]): Promise<Varbind[]> {
    const found: Varbind[] = [];
    const refusals: AgentError[] = [];
    for (let at = 0; at < oids.length; at += mostInOneGet)
      found.push(...(await this.#getSome(oids.slice(at, at + mostInOneGet), refusals, narrower)));
    // one object that is refused is left out; an agent that refuses all of them says so
    if (found.length === 0 && refusals[0]) throw refusals[0];
    return found;
  }

  /** @param refusals takes why objects were not told */
  async #getSome(oids: string[], refusals: AgentError[], narrower?: string[]): Promise<Varbind[]> {
    if (oids.length === 0) return [];
    try {
      const { variables } = await this.#ask({ type: 'get', oids, ...(narrower && { narrower }) });
      const found = variables.flatMap(varbindOf);
      // one that answers as much as fits is asked for the rest; what was narrowed down is answered whole
      const isNarrow = narrower !== undefined && variables.every(({ text }) => narrower.includes(text));
      const isCut = variables.length > 0 && variables.length < oids.length && !isNarrow;
      return isCut ? [...found, ...(await this.#getSome(oids.slice(variables.length), refusals))] : found;
    } catch (error) {
      if (!(error instanceof AgentError)) throw error;
      // some refuse the whole question for one object: version 1 where it is not there, others where they may not or cannot tell it
      const isRefused = refusesOne.has(error.word);
      if (isRefused && error.word !== 'noSuchName') refusals.push(error);
      if (isRefused && oids.length === 1) return [];
      if (isRefused && error.index >= 1 && error.index <= oids.length)
        return this.#getSome(
          oids.filter((_, at) => at !== error.index - 1),
          refusals,
        );
      if ((error.word === 'tooBig' || isRefused) && oids.length > 1) {
        const half = Math.ceil(oids.length / 2);
        return [
          ...(await this.#getSome(oids.slice(0, half), refusals)),
          ...(await this.#getSome(oids.slice(half), refusals)),
        ];
      }
      throw error;
    }
  }

  /** Writes objects, all of them or none (RFC 3416 section 4.2.5). @throws AgentError where the agent refuses, SourceError where it does not answer: then it may have been done, or not */
  async set(assignments: Assignment[]): Promise<void> {
    await this.#session.ask({ type: 'set', assignments });
  }

  async columns(entry: string, columns: readonly number[]): Promise<TableRows> {
    const answered = columns.map((column) => new AnsweredColumn(column, ObjectName.of(`${entry}.${column}`)));
    const rows = new JoinedColumns(answered);
    try {
      await this.#readColumns(entry, answered);
    } catch (error) {
      if (error instanceof SourceError) throw new SourceError(error.fault, error.message, rows);
      throw error;
    }
    return rows;
  }

  /** Asks for columns side by side until each has ended. @throws SourceError; what came before stands in the columns */
  async #readColumns(entry: string, answered: AnsweredColumn[]): Promise<void> {
    if (this.#narrowly && answered.length > 1) return this.#readApart(entry, answered);
    let cursors: Cursor[] = answered.map((column) => ({ column, last: column.root }));
    let most = mostRepetitions;
    while (cursors.length > 0) {
      const fitting = Math.floor(
        (room * (this.#endsByItself ? overfull : 1)) / (this.#octetsPerVariable * cursors.length),
      );
      const repetitions = Math.max(1, Math.min(most, fitting));
      let variables: AnsweredVariable[];
      // another part may find out meanwhile how it must be asked
      const plainly = this.#plainly;
      const way = this.#way;
      try {
        variables = await this.#next(
          cursors.map(({ last }) => last),
          repetitions,
        );
      } catch (error) {
        // some drop what asks for much: it is tried once whether they answer to less
        const isFirst = cursors.length === answered.length && answered.every(({ length }) => length === 0);
        if (isFirst && isSilence(error)) {
          const answers = await this.#answersToLess(cursors.map(({ last }) => last));
          // asked as it was already, it would keep as silent once more
          if (answers && this.#way !== way) return this.#readColumns(entry, answered);
        }
        // agents say genErr too where an answer does not fit
        if (
          !(
            error instanceof AgentError &&
            (error.word === 'tooBig' || error.word === 'genErr') &&
            (repetitions > 1 || cursors.length > 1 || !plainly)
          )
        )
          throw error;
        if (repetitions === 1 && cursors.length === 1) {
          // one that cannot answer in bulk at all is asked row by row, as in version 1
          this.#plainly = true;
          continue;
        }
        if (repetitions > 1) {
          most = Math.floor(repetitions / 2);
          continue;
        }
        // not even one row fits: column by column
        return this.#readApart(
          entry,
          cursors.map(({ column }) => column),
        );
      }
      if (variables.length === 0)
        throw new SourceError('misbehaving', `the agent answered nothing behind ${cursors[0]?.last.text ?? entry}`);
      const wanted = cursors.length * repetitions;
      cursors = advance(cursors, variables);
      if (variables.length > wanted)
        throw new SourceError(
          'misbehaving',
          `the agent answered ${variables.length} variables where ${wanted} were asked for: nobody can tell which is which`,
        );
      if (answered.reduce((sum, column) => sum + column.length, 0) > this.mostRows)
        throw new SourceError(
          'misbehaving',
          `the table ${entry} has more than ${this.mostRows} values: it seems never to end`,
        );
    }
  }

  async #readApart(entry: string, columns: readonly AnsweredColumn[]): Promise<void> {
    for (const column of columns) {
      column.clear();
      await this.#readColumns(entry, [column]);
    }
  }

  /** After the first silence to a table: whether its first rows are told to GETNEXT, or its first column alone. It is asked so from then on. */
  #answersToLess(names: readonly ObjectName[]): Promise<boolean> {
    return (this.#less ??= this.#tryLess(names));
  }

  async #tryLess(names: readonly ObjectName[]): Promise<boolean> {
    const all = [...names];
    const attempts: { question: Question; plainly: boolean; narrowly: boolean }[] = [
      // on a bad line the same may be answered now: that is no reason to ask for less
      ...(this.#plainly
        ? []
        : [
            { question: { type: 'getBulk' as const, oids: all, repetitions: 1 }, plainly: false, narrowly: false },
            { question: { type: 'getNext' as const, oids: all }, plainly: true, narrowly: false },
          ]),
      ...(all.length > 1
        ? [{ question: { type: 'getNext' as const, oids: all.slice(0, 1) }, plainly: true, narrowly: true }]
        : []),
    ];
    for (const { question, plainly, narrowly } of attempts) {
      try {
        await this.#ask(question);
      } catch (error) {
        if (isSilence(error)) continue;
        // an error is an answer: it is there, and will say as much of the table itself
        if (!(error instanceof AgentError)) throw error;
      }
      this.#plainly ||= plainly;
      this.#narrowly ||= narrowly;
      this.#way++;
      return true;
    }
    return false;
  }

  close(): void {
    // the socket is the survey's, not ours
  }

  async #next(names: ObjectName[], repetitions: number): Promise<AnsweredVariable[]> {
    if (this.#plainly) {
      try {
        return (await this.#ask({ type: 'getNext', oids: names })).variables;
      } catch (error) {
        // version 1 says noSuchName at the end of what it has
        if (!(error instanceof AgentError) || error.word !== 'noSuchName') throw error;
        const ended = error.index >= 1 && error.index <= names.length ? error.index - 1 : 0;
        const end = names.slice(ended, ended + 1).map((name) => AnsweredVariable.endBehind(name));
        if (names.length === 1) return end;
        const rest = await this.#next(
          names.filter((_, at) => at !== ended),
          1,
        );
        return [...rest.slice(0, ended), ...end, ...rest.slice(ended)];
      }
    }
    const { variables, size } = await this.#ask({ type: 'getBulk', oids: names, repetitions });
    if (variables.length >= 8)
      this.#octetsPerVariable = Math.max(12, (this.#octetsPerVariable + 3 * (size / variables.length)) / 4);
    if (size > wholeDatagram) this.#endsByItself = false;
    else if (variables.length < repetitions * names.length && size > room * 0.8) this.#endsByItself = true;
    return variables;
  }
}

const isSilence = (error: unknown): boolean => error instanceof SourceError && error.fault === 'no answer';

function varbindOf(variable: AnsweredVariable): Varbind[] {
  const { value } = variable;
  return value === null ? [] : [{ oid: variable.text, value }];
}

/** Takes the rows of an answer, column by column, and says where to go on. @throws SourceError where the agent goes back */
function advance(cursors: Cursor[], variables: AnsweredVariable[]): Cursor[] {
  const width = cursors.length;
  const going: Cursor[] = [];
  for (let place = 0; place < width; place++) {
    const cursor = cursors[place];
    if (cursor && goOn(cursor, variables, place, width)) going.push(cursor);
  }
  // an answer shorter than one row leaves the last columns where they were; the next one begins with fewer of them done
  return going;
}

/** @returns false where the column has ended */
function goOn(cursor: Cursor, variables: AnsweredVariable[], place: number, width: number): boolean {
  const { root } = cursor.column;
  const rootLength = root.stop - root.start;
  for (let at = place; at < variables.length; at += width) {
    const variable = variables[at];
    if (!variable || variable.end) return false;
    const { last } = cursor;
    // what has more in common with a name of the column than the column's own name lies in the column too: one look tells both
    const common = sharedOctets(variable, last);
    expectFurther(variable, last, common);
    if (common < rootLength || variable.stop - variable.start === rootLength) {
      expectNoReturn(variables, at, width);
      return false;
    }
    cursor.last = variable;
    if (!variable.absent) cursor.column.add(variable);
  }
  return true;
}

/** What stands behind the end of a column goes on and on: an agent that comes back to it left rows out in between. @throws SourceError */
function expectNoReturn(variables: AnsweredVariable[], from: number, width: number): void {
  for (let at = from + width; at < variables.length; at += width) {
    const [before, variable] = [variables[at - width], variables[at]];
    if (!before || !variable || before.end || variable.end) return;
    expectFurther(variable, before);
  }
}

/** What comes next lies behind what was asked, wherever it is (RFC 3416, 4.2.2): an agent that goes back goes round. @throws SourceError */
function expectFurther(variable: AnsweredVariable, last: ObjectName, common = sharedOctets(variable, last)): void {
  if (orderBehind(variable, last, common) > 0) return;
  throw new SourceError(
    'misbehaving',
    `after ${last.text} the agent went back to ${variable.text}: its tables would never end`,
  );
}
