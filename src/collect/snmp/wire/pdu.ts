import type { Assignment, SnmpValue } from '../../../core/mib/varbind';
import { BerError, BerReader } from './berReader';
import { ObjectName } from './objectName';
import type { BerWriter } from './berWriter';

/** PDU tags of RFC 3416. */
export const pduTag = { get: 0xa0, getNext: 0xa1, response: 0xa2, set: 0xa3, getBulk: 0xa5, report: 0xa8 } as const;

/** Error status words of RFC 3416 section 3, by number. */
export const errorWords = [
  'noError',
  'tooBig',
  'noSuchName',
  'badValue',
  'readOnly',
  'genErr',
  'noAccess',
  'wrongType',
  'wrongLength',
  'wrongEncoding',
  'wrongValue',
  'noCreation',
  'inconsistentValue',
  'resourceUnavailable',
  'commitFailed',
  'undoFailed',
  'authorizationError',
  'notWritable',
  'inconsistentName',
] as const;

/** What is asked for: dotted text, or a name as it stood in an answer. */
export type AskedName = string | ObjectName;
export type Question =
  /** `narrower`: what is asked instead where no answer comes: some agents drop what is too wide for them */
  | { type: 'get' | 'getNext'; oids: AskedName[]; narrower?: AskedName[] }
  | { type: 'getBulk'; oids: AskedName[]; repetitions: number }
  /** what is to be written, all of it or none (RFC 3416 section 4.2.5) */
  | { type: 'set'; assignments: Assignment[] };

/**
 * One variable of an answer: where its name and its value stand in the message. Values are made when they are asked for, since an engine holds the
 * tables of many devices until it reads them, and objects for every value would keep the collector of garbage busier than the wire.
 */
export class AnsweredVariable extends ObjectName {
  constructor(
    override readonly octets: Buffer,
    start: number,
    stop: number,
    readonly valueAt: number,
  ) {
    super(octets, start, stop);
  }

  /** As an agent that has nothing behind a name answers it. */
  static endBehind({ octets, start, stop }: ObjectName): AnsweredVariable {
    return new AnsweredVariable(
      Buffer.concat([octets.subarray(start, stop), endOfMibView]),
      0,
      stop - start,
      stop - start,
    );
  }

  /** Null for noSuchObject, noSuchInstance and endOfMibView. */
  get value(): SnmpValue | null {
    const reader = new BerReader(this.octets, this.valueAt);
    return readValue(reader, reader.peek());
  }

  /** The agent says of the instance that it is not there: it has no value. */
  get absent(): boolean {
    return !valueTags.has(this.octets[this.valueAt] ?? 0);
  }

  /** Nothing stands behind the name any more. */
  get end(): boolean {
    return this.octets[this.valueAt] === endTag;
  }
}

const valueTags = new Set([0x02, 0x04, 0x06, 0x40, 0x41, 0x42, 0x43, 0x44, 0x46]);
const endTag = 0x82;
const endOfMibView = Buffer.from([endTag, 0]);

export interface AnsweredPdu {
  tag: number;
  requestId: number;
  errorStatus: number;
  errorIndex: number;
  variables: AnsweredVariable[];
}

export function writeQuestion(write: BerWriter, requestId: number, question: Question): void {
  const end = write.length;
  const list = write.length;
  if (question.type === 'set') writeAssignments(write, question.assignments);
  else writeNames(write, question.oids);
  write.head(0x30, list);
  write.integer(0x02, question.type === 'getBulk' ? question.repetitions : 0);
  write.integer(0x02, 0);
  write.integer(0x02, requestId);
  write.head(pduTag[question.type], end);
}

function writeNames(write: BerWriter, oids: AskedName[]): void {
  for (let at = oids.length - 1; at >= 0; at--) {
    const varbind = write.length;
    write.nothing();
    const name = oids[at] ?? '0.0';
    if (typeof name === 'string') write.oid(name);
    else write.contents(0x06, name.octets, name.start, name.stop);
    write.head(0x30, varbind);
  }
}

function writeAssignments(write: BerWriter, assignments: Assignment[]): void {
  for (const { oid, value } of [...assignments].reverse()) {
    const varbind = write.length;
    if (value.type === 'integer') write.integer(0x02, value.value);
    else write.octetString(value.value);
    write.oid(oid);
    write.head(0x30, varbind);
  }
}

const mostVariables = 20_000;

export function readPdu(reader: BerReader): AnsweredPdu {
  const tag = reader.peek();
  if (tag !== pduTag.response && tag !== pduTag.report) throw new BerError('no response');
  const pdu = reader.inside(tag);
  const requestId = pdu.integer();
  const errorStatus = pdu.integer();
  const errorIndex = pdu.integer();
  const list = pdu.inside(0x30);
  const variables: AnsweredVariable[] = [];
  while (!list.done) {
    if (variables.length >= mostVariables) throw new BerError('more variables than a datagram holds');
    const varbind = list.enter(0x30);
    const start = list.name();
    const stop = list.at;
    variables.push(new AnsweredVariable(list.octets, start, stop, stop));
    passValue(list, list.peek());
    list.leave(varbind);
  }
  return { tag, requestId, errorStatus, errorIndex, variables };
}

/** Holds a value against the bounds of its type, so that whoever makes it later need not. */
function passValue(reader: BerReader, tag: number): void {
  switch (tag) {
    case 0x02:
    case 0x41:
    case 0x42:
    case 0x43:
      return reader.passNumber(5);
    case 0x46:
      return reader.passNumber(9);
    case 0x06:
      return void reader.name();
    default:
      reader.skip();
  }
}

function readValue(reader: BerReader, tag: number): SnmpValue | null {
  switch (tag) {
    case 0x02:
      return { type: 'integer', value: reader.integer() };
    case 0x04:
      return { type: 'octets', value: reader.octetString() };
    case 0x06:
      return { type: 'oid', value: reader.oid() };
    case 0x40: {
      const octets = reader.octetString(0x40);
      return octets.length === 4 ? { type: 'ipAddress', value: octets.join('.') } : { type: 'octets', value: octets };
    }
    case 0x41:
      return { type: 'counter32', value: reader.unsigned(0x41) };
    case 0x42:
      return { type: 'gauge32', value: reader.unsigned(0x42) };
    case 0x43:
      return { type: 'timeticks', value: reader.unsigned(0x43) };
    case 0x44:
      return { type: 'opaque', value: reader.octetString(0x44) };
    case 0x46:
      return { type: 'counter64', value: reader.unsigned64(0x46) };
    default:
      // null, the three exceptions of RFC 3416, and types that are none
      reader.skip();
      return null;
  }
}
