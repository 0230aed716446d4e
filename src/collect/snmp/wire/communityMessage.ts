import { BerError, BerReader } from './berReader';
import { BerWriter } from './berWriter';
import { readPdu, writeQuestion, type AnsweredPdu, type Question } from './pdu';

/** Messages of SNMPv1 (RFC 1157) and community-based SNMPv2 (RFC 1901): version 0 and 1 on the wire. */
export function writeCommunityMessage(
  version: 0 | 1,
  community: string,
  requestId: number,
  question: Question,
): Buffer {
  const write = new BerWriter();
  writeQuestion(write, requestId, question);
  write.octetString(Buffer.from(community, 'utf8'));
  write.integer(0x02, version);
  write.head(0x30, 0);
  return write.finish();
}

/** @throws BerError */
export function readCommunityMessage(octets: Buffer): { version: number; pdu: AnsweredPdu } {
  const message = new BerReader(octets).inside(0x30);
  const version = message.integer();
  if (version !== 0 && version !== 1) throw new BerError('another version');
  message.octetString();
  return { version, pdu: readPdu(message) };
}

/**
 * The number by which an answer finds its question: the request id of v1 and v2c, the message id of v3. Null if the octets are no
 * SNMP message.
 */
export function messageNumber(octets: Buffer): number | null {
  try {
    const message = new BerReader(octets).inside(0x30);
    const version = message.integer();
    if (version === 3) return message.inside(0x30).integer();
    if (version !== 0 && version !== 1) return null;
    message.octetString();
    const pdu = new BerReader(octets, message.at, message.end);
    pdu.head();
    return pdu.integer();
  } catch (error) {
    if (error instanceof BerError) return null;
    throw error;
  }
}
