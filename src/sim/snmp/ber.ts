/**
 * BER as SNMP uses it (RFC 3417 section 8): definite lengths, low tag numbers. Written for the stand-ins alone:
 * it shares nothing with what reads their answers.
 */
export const tag = {
  integer: 0x02,
  octets: 0x04,
  nothing: 0x05,
  oid: 0x06,
  sequence: 0x30,
  ipAddress: 0x40,
  counter32: 0x41,
  gauge32: 0x42,
  timeticks: 0x43,
  opaque: 0x44,
  counter64: 0x46,
  noSuchObject: 0x80,
  noSuchInstance: 0x81,
  endOfMibView: 0x82,
  get: 0xa0,
  getNext: 0xa1,
  response: 0xa2,
  set: 0xa3,
  getBulk: 0xa5,
  report: 0xa8,
} as const;

export class BerError extends Error {}

/** One element: tag, contents, and where it ends in the octets it was read from. */
export interface Element {
  tag: number;
  body: Buffer;
  start: number;
  end: number;
}

export function element(octets: Buffer, at = 0): Element {
  const tagOctet = octets[at];
  const first = octets[at + 1];
  if (tagOctet === undefined || first === undefined) throw new BerError('cut short');
  let length = first;
  let from = at + 2;
  if (first & 0x80) {
    const count = first & 0x7f;
    if (count === 0 || count > 3 || from + count > octets.length) throw new BerError('bad length');
    length = octets.readUIntBE(from, count);
    from += count;
  }
  if (from + length > octets.length) throw new BerError('cut short');
  return { tag: tagOctet, body: octets.subarray(from, from + length), start: from, end: from + length };
}

export function elements(body: Buffer): Element[] {
  const list: Element[] = [];
  for (let at = 0; at < body.length;) {
    const next = element(body, at);
    list.push(next);
    at = next.end;
  }
  return list;
}

export function wrap(tagOctet: number, ...bodies: Buffer[]): Buffer {
  let length = 0;
  for (const body of bodies) length += body.length;
  const head = length < 0x80 ? 2 : length < 0x100 ? 3 : 4;
  const whole = Buffer.allocUnsafe(head + length);
  whole[0] = tagOctet;
  if (head > 2) whole[1] = 0x80 | (head - 2);
  if (head > 3) whole[2] = length >> 8;
  whole[head - 1] = length & 0xff;
  let at = head;
  for (const body of bodies) {
    whole.set(body, at);
    at += body.length;
  }
  return whole;
}

export function integer(value: number, tagOctet: number = tag.integer): Buffer {
  const whole = Math.trunc(value);
  if (whole < -0x8000_0000 || whole > 0x7fff_ffff) return wrap(tagOctet, signed(BigInt(whole)));
  let count = 1;
  while (count < 4 && whole >> (count * 8 - 1) !== 0 && whole >> (count * 8 - 1) !== -1) count++;
  const octets = Buffer.allocUnsafe(2 + count);
  octets[0] = tagOctet;
  octets[1] = count;
  octets.writeIntBE(whole, 2, count);
  return octets;
}

export function counter64(value: bigint): Buffer {
  return wrap(tag.counter64, signed(value));
}

function signed(value: bigint): Buffer {
  const octets: number[] = [];
  let rest = value;
  do {
    octets.unshift(Number(rest & 0xffn));
    rest >>= 8n;
  } while (!(rest === 0n && !((octets[0] ?? 0) & 0x80)) && !(rest === -1n && (octets[0] ?? 0) & 0x80));
  return Buffer.from(octets);
}

export function readInteger(body: Buffer): number {
  if (body.length === 0 || body.length > 6) throw new BerError('bad integer');
  return body.readIntBE(0, body.length);
}

export function octets(value: string | Buffer): Buffer {
  return wrap(tag.octets, typeof value === 'string' ? Buffer.from(value, 'utf8') : value);
}

export function oid(parts: number[]): Buffer {
  const body = Buffer.allocUnsafe(parts.length * 5);
  let end = 0;
  for (let at = 1; at < parts.length; at++) {
    const part = at === 1 ? (parts[0] ?? 0) * 40 + (parts[1] ?? 0) : (parts[at] ?? 0);
    // seven bits an octet, the highest first, all but the last marked
    if (part >= 0x1000_0000) body[end++] = (part >>> 28) | 0x80;
    if (part >= 0x20_0000) body[end++] = (part >>> 21) | 0x80;
    if (part >= 0x4000) body[end++] = (part >>> 14) | 0x80;
    if (part >= 0x80) body[end++] = (part >>> 7) | 0x80;
    body[end++] = part & 0x7f;
  }
  return wrap(tag.oid, body.subarray(0, end));
}

export function readOid(body: Buffer): number[] {
  const parts: number[] = [];
  let value = 0;
  for (const octet of body) {
    value = value * 128 + (octet & 0x7f);
    if (octet & 0x80) continue;
    if (parts.length === 0) {
      const first = Math.min(2, Math.floor(value / 40));
      parts.push(first, value - first * 40);
    } else parts.push(value);
    value = 0;
  }
  return parts;
}
