import { withoutControls } from '../values/controls';
import { isEmptyMac, macFromOctets, parseMac } from '../values/mac';

/**
 * One answered variable, as every source gives it (live agent, walk file, collector): the object identifier and a tagged value.
 * Integers above 2^53 do not occur in the tables read here except Counter64, which is kept as bigint.
 */
export type SnmpValue =
  | { type: 'integer' | 'counter32' | 'gauge32' | 'timeticks'; value: number }
  | { type: 'counter64'; value: bigint }
  | { type: 'octets' | 'opaque'; value: Uint8Array }
  | { type: 'oid' | 'ipAddress'; value: string };

export interface Varbind {
  oid: string;
  value: SnmpValue;
}

/** An object instance and what is to be written into it. */
export interface Assignment {
  oid: string;
  value: { type: 'integer'; value: number } | { type: 'octets'; value: Uint8Array };
}

const decoder = new TextDecoder('utf-8', { fatal: true });
const latin1 = new TextDecoder('latin1');

/** Text of an octet string: UTF-8, else Latin-1; trailing NULs and surrounding blanks removed. See `withoutControls`. */
export function textOf(value: SnmpValue | undefined): string | undefined {
  if (!value) return undefined;
  if (value.type === 'octets') {
    const plain = plainText(value.value);
    if (plain !== null) return plain;
    let text: string;
    try {
      text = decoder.decode(value.value);
    } catch {
      text = latin1.decode(value.value);
    }

    return withoutControls(text);
  }
  if (value.type === 'oid' || value.type === 'ipAddress') return value.value;
  if (value.type === 'opaque') return undefined;
  return String(value.value);
}

const mostPlain = 64;

/** Short text of printable ASCII, which most is, without the work of a decoder; null for any other. */
function plainText(octets: Uint8Array): string | null {
  if (octets.length > mostPlain) return null;
  let text = '';
  for (let at = 0; at < octets.length; at++) {
    const octet = octets[at] ?? 0;
    if (octet < 0x20 || octet > 0x7e) return null;
    text += String.fromCharCode(octet);
  }
  return text.trim();
}

/** A number, or undefined where the agent answered with something else. */
export function numberOf(value: SnmpValue | undefined): number | undefined {
  if (!value) return undefined;
  if (value.type === 'counter64') return Number(value.value);
  return typeof value.value === 'number' ? value.value : undefined;
}

/** Raw octets, or undefined. */
export function octetsOfValue(value: SnmpValue | undefined): Uint8Array | undefined {
  return value && (value.type === 'octets' || value.type === 'opaque') ? value.value : undefined;
}

/** A MAC: six octets, or the text of one, as walks with display hints have it (SNMPv2-TC, PhysAddress); null for what is none, and for noughts alone. */
export function macOfValue(value: SnmpValue | undefined): string | null {
  const octets = octetsOfValue(value);
  if (!octets) return null;
  const mac = macFromOctets(octets) ?? (octets.length > 6 ? parseMac(textOf(value) ?? '') : null);
  return mac !== null && isEmptyMac(mac) ? null : mac;
}
