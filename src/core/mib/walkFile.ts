import { compareOids, parseOid } from '../values/oid';
import type { SnmpValue, Varbind } from './varbind';

/** A line of a walk that cannot be read. */
export class WalkError extends Error {
  constructor(
    readonly line: number,
    readonly reason: string,
  ) {
    super(`line ${line}: ${reason}`);
    this.name = 'WalkError';
  }
}

/**
 * Reads a numeric walk: `.1.3.6… = TYPE: value` a line. Strings in quotation marks or hex may run over several lines.
 * @returns varbinds in OID order
 * @throws WalkError at the first line that is no varbind
 */
export function parseWalk(text: string): Varbind[] {
  const varbinds: Varbind[] = [];
  const lines = text.split(/\r?\n/);
  for (let at = 0; at < lines.length; at++) {
    const line = lines[at] ?? '';
    if (line.trim() === '' || line.startsWith('#')) continue;
    const head = /^\.?(\d+(?:\.\d+)*) = (.*)$/s.exec(line);
    if (!head?.[1] || head[2] === undefined)
      throw new WalkError(at + 1, `is not “.1.3.6… = TYPE: value” but “${line.slice(0, 60)}”`);
    const start = at;
    let rest = head[2];
    // a value goes on until the next line that begins like a varbind
    while (
      at + 1 < lines.length &&
      !/^\.?\d+(\.\d+)+ = /.test(lines[at + 1] ?? '') &&
      continues(rest, lines[at + 1] ?? '')
    )
      rest += `\n${lines[++at] ?? ''}`;
    const value = walkValue(rest, start + 1);
    if (value) varbinds.push({ oid: head[1], value });
  }
  return varbinds.sort((x, y) => compareOids(x.oid, y.oid));
}

function continues(soFar: string, next: string): boolean {
  if (/^STRING: "/.test(soFar)) return !/[^\\]"$|^STRING: ""$/.test(soFar);
  if (/^Hex-STRING:/.test(soFar)) return /^[0-9A-Fa-f]{2}( |$)/.test(next);
  return false;
}

function walkValue(text: string, line: number): SnmpValue | null {
  if (/^No (Such|more)/i.test(text)) return null;
  if (text === '""') return { type: 'octets', value: new Uint8Array() };
  const match = /^([A-Za-z][A-Za-z0-9-]*(?: [A-Z]+)?):\s?(.*)$/s.exec(text);
  if (!match) throw new WalkError(line, `has no type: “${text.slice(0, 40)}”`);
  const [, type = '', raw = ''] = match;
  // a word may stand before the number, in brackets then: `ieee8023adLag(161)`
  const number = (): number => {
    const digits = /^[A-Za-z][\w-]*\((-?\d+)\)/.exec(raw)?.[1] ?? /\(?(-?\d+)\)?/.exec(raw)?.[1];
    if (digits === undefined) throw new WalkError(line, `“${raw.slice(0, 40)}” is no number`);
    return Number(digits);
  };
  switch (type) {
    case 'INTEGER':
      return { type: 'integer', value: number() };
    case 'Gauge32':
    case 'Unsigned32':
      return { type: 'gauge32', value: number() };
    case 'Counter32':
      return { type: 'counter32', value: number() };
    case 'Timeticks':
      return { type: 'timeticks', value: number() };
    case 'Counter64': {
      if (!/^\d+$/.test(raw.trim())) throw new WalkError(line, `“${raw.slice(0, 40)}” is no number`);
      return { type: 'counter64', value: BigInt(raw.trim()) };
    }
    case 'OID': {
      const oid = parseOid(raw);
      if (oid === null) throw new WalkError(line, `“${raw.slice(0, 40)}” is no object identifier`);
      return { type: 'oid', value: oid };
    }
    case 'IpAddress':
    case 'Network Address':
      return { type: 'ipAddress', value: raw.trim() };
    case 'Hex-STRING':
    case 'BITS':
    case 'OPAQUE':
    case 'Opaque': {
      const octets = raw.match(/\b[0-9A-Fa-f]{2}\b/g) ?? [];
      return { type: 'octets', value: Uint8Array.from(octets, (octet) => Number.parseInt(octet, 16)) };
    }
    case 'STRING': {
      const quoted = /^"(.*)"$/s.exec(raw);
      const inner = quoted ? (quoted[1] ?? '').replace(/\\(["\\])/g, '$1') : raw;
      return { type: 'octets', value: new TextEncoder().encode(inner) };
    }
    default:
      throw new WalkError(line, `has the unknown type “${type}”`);
  }
}
