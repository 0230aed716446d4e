import { BerError, BerReader } from './berReader';
import { BerWriter } from './berWriter';
import { readPdu, writeQuestion, type AnsweredPdu, type Question } from './pdu';
import type { UserSecurity } from './userSecurity';

/** An SNMP engine as its answers tell of it (RFC 3411, RFC 3414 section 2.2). */
export interface Engine {
  id: Buffer;
  boots: number;
  /** seconds since it booted, by our clock at `readAt` */
  time: number;
  readAt: number;
}

/**
 * The octets an answer may have: all that UDP carries. A smaller number would be honest about what we want, but agents exist that answer
 * genErr where their rows do not fit it; instead the questions are such that the answers stay within one datagram.
 */
const largestAnswer = 65_507;
const reportable = 4;

/** The first message to an unknown engine: no user, no engine, answered with a report that names it (RFC 3414 section 4). */
export function writeDiscovery(messageId: number): Buffer {
  return writeMessage(
    messageId,
    reportable,
    { id: Buffer.alloc(0), boots: 0, time: 0 },
    '',
    0,
    Buffer.alloc(0),
    plainScopedPdu(Buffer.alloc(0), '', messageId, { type: 'get', oids: [] }),
  ).octets;
}

export function writeUserMessage(
  messageId: number,
  engine: Engine,
  now: number,
  user: string,
  context: string,
  security: UserSecurity,
  question: Question,
): Buffer {
  const time = engine.time + Math.floor((now - engine.readAt) / 1000);
  const scoped = plainScopedPdu(engine.id, context, messageId, question);
  const { cipherText, salt } =
    security.flags & 2 ? security.encrypt(scoped, engine.boots, time) : { cipherText: scoped, salt: Buffer.alloc(0) };
  let body = cipherText;
  if (security.flags & 2) {
    const wrapped = new BerWriter(cipherText.length + 16);
    wrapped.octetString(cipherText);
    body = wrapped.finish();
  }
  const { octets, macAt } = writeMessage(
    messageId,
    security.flags | reportable,
    { id: engine.id, boots: engine.boots, time },
    user,
    security.macLength,
    salt,
    body,
  );
  if (security.flags & 1) security.mac(octets).copy(octets, macAt);
  return octets;
}

function plainScopedPdu(engineId: Buffer, context: string, requestId: number, question: Question): Buffer {
  const write = new BerWriter();
  writeQuestion(write, requestId, question);
  write.octetString(Buffer.from(context, 'utf8'));
  write.octetString(engineId);
  write.head(0x30, 0);
  return write.finish();
}

function writeMessage(
  messageId: number,
  flags: number,
  engine: Pick<Engine, 'id' | 'boots' | 'time'>,
  user: string,
  macLength: number,
  salt: Buffer,
  body: Buffer,
): { octets: Buffer; macAt: number } {
  const write = new BerWriter(body.length + 256);
  write.bytes(body);
  const parameters = write.length;
  write.octetString(salt);
  const behindMac = write.length;
  write.octetString(Buffer.alloc(macLength));
  write.octetString(Buffer.from(user, 'utf8'));
  write.integer(0x02, engine.time);
  write.integer(0x02, engine.boots);
  write.octetString(engine.id);
  write.head(0x30, parameters);
  write.head(0x04, parameters);
  const header = write.length;
  write.integer(0x02, 3);
  write.octetString(Buffer.from([flags]));
  write.integer(0x02, largestAnswer);
  write.integer(0x02, messageId);
  write.head(0x30, header);
  write.integer(0x02, 3);
  write.head(0x30, 0);
  const octets = write.finish();
  return { octets, macAt: octets.length - behindMac - macLength };
}

export interface UserAnswer {
  messageId: number;
  flags: number;
  engine: { id: Buffer; boots: number; time: number };
  user: string;
  /** whether the HMAC was there and fits; an answer that claims one and has another is thrown away before */
  authentic: boolean;
  pdu: AnsweredPdu;
}

export class ForgedError extends BerError {}

/**
 * Reads a v3 message. `securityOf` gives the keys for an engine, or null while none are known: then only an unencrypted report is read.
 * @throws BerError, ForgedError where the HMAC does not fit
 */
export function readUserMessage(octets: Buffer, securityOf: (engineId: Buffer) => UserSecurity | null): UserAnswer {
  const message = new BerReader(octets).inside(0x30);
  if (message.integer() !== 3) throw new BerError('another version');
  const header = message.inside(0x30);
  const messageId = header.integer();
  header.integer();
  const flags = header.octetString()[0] ?? 0;
  const parametersEnd = message.head(0x04);
  const parameters = new BerReader(octets, message.at, parametersEnd).inside(0x30);
  message.at = parametersEnd;
  const engine = { id: Buffer.from(parameters.octetString()), boots: parameters.integer(), time: parameters.integer() };
  const user = parameters.octetString().toString('utf8');
  const mac = parameters.octetString();
  const salt = parameters.octetString();
  const security = flags & 1 ? securityOf(engine.id) : null;
  if (flags & 1) {
    if (!security) throw new BerError('signed by an engine that is not known yet');
    const zeroed = Buffer.from(octets);
    zeroed.fill(0, mac.byteOffset - octets.byteOffset, mac.byteOffset - octets.byteOffset + mac.length);
    if (!security.macFits(zeroed, mac)) throw new ForgedError('the signature does not fit');
  }
  let scoped: BerReader;
  if (flags & 2) {
    if (!security) throw new BerError('encrypted without a signature');
    scoped = new BerReader(security.decrypt(message.octetString(), engine.boots, engine.time, salt)).inside(0x30);
  } else scoped = message.inside(0x30);
  scoped.octetString();
  scoped.octetString();
  return { messageId, flags, engine, user, authentic: (flags & 1) === 1, pdu: readPdu(scoped) };
}
