/** MAC addresses as canonical lower-case text with colons: `02:4c:91:0e:77:10`. */

/** Six octets to text; null for another length. */
export function macFromOctets(octets: ArrayLike<number>): string | null {
  return octets.length === 6 ? macAt(octets, 0) : null;
}

/** The six octets at a place of a longer row; null where they are no octets. */
export function macAt(octets: ArrayLike<number>, from: number): string | null {
  let text = '';
  for (let at = from; at < from + 6; at++) {
    const digits = hex[octets[at] ?? -1];
    if (digits === undefined) return null;
    text += at === from ? digits : `:${digits}`;
  }
  return text;
}

const hex = Array.from({ length: 256 }, (_, octet) => octet.toString(16).padStart(2, '0'));

/** The octets of a MAC in its canonical form; null for any other text. */
export function octetsOfMac(mac: string): number[] | null {
  if (!canonical.test(mac)) return null;
  return [0, 3, 6, 9, 12, 15].map((at) => Number.parseInt(mac.slice(at, at + 2), 16));
}

/** A MAC in its canonical form as a 48-bit number, by which it compares and is looked up faster; null for any other text. */
export function macNumber(mac: string): number | null {
  if (mac.length !== 17) return null;
  // digit by digit: conclusions ask it of every port there is
  let number = 0;
  for (let at = 0; at < 17; at++) {
    const code = mac.charCodeAt(at);
    if (at % 3 === 2) {
      if (code !== 0x3a) return null;
      continue;
    }
    const digit = code >= 0x30 && code <= 0x39 ? code - 0x30 : code >= 0x61 && code <= 0x66 ? code - 0x57 : -1;
    if (digit < 0) return null;
    number = number * 16 + digit;
  }
  return number;
}

/** The canonical text of a 48-bit number. */
export function macOfNumber(number: number): string {
  const low = number % 0x1_0000_0000;
  return `${pairOf((number - low) / 0x1_0000_0000)}:${pairOf(low >>> 16)}:${pairOf(low & 0xffff)}`;
}

/** Text of two octets, made once: an estate has few different ones at each place. */
const pairs: (string | undefined)[] = new Array<undefined>(0x1_0000);
const pairOf = (number: number): string => (pairs[number] ??= `${hex[number >> 8]}:${hex[number & 255]}`);

const canonical = /^[0-9a-f]{2}(:[0-9a-f]{2}){5}$/;

/** Any usual notation (colons, dashes, dots, bare, leading zeros left out between colons) to canonical text; null if it is none. */
export function parseMac(text: string): string | null {
  const trimmed = text.trim().toLowerCase();
  if (/^[0-9a-f]{1,2}([:-][0-9a-f]{1,2}){5}$/.test(trimmed)) {
    return trimmed
      .split(/[:-]/)
      .map((part) => part.padStart(2, '0'))
      .join(':');
  }
  const digits = trimmed.replace(/[.\s]/g, '');
  if (!/^[0-9a-f]{12}$/.test(digits) || !/^([0-9a-f]{12}|[0-9a-f]{4}(\.[0-9a-f]{4}){2})$/.test(trimmed)) return null;
  return digits.match(/../g)?.join(':') ?? null;
}

/** True for group addresses (multicast, broadcast): they never are an endpoint. IEEE 802, bit 0 of the first octet. */
export function isGroupMac(mac: string): boolean {
  return (Number.parseInt(mac.slice(0, 2), 16) & 1) === 1;
}

/** True for locally administered addresses (often random ones): they name no maker. IEEE 802, bit 1 of the first octet. */
export function isLocalMac(mac: string): boolean {
  return (Number.parseInt(mac.slice(0, 2), 16) & 2) === 2;
}

/** All zeros or all ones: written by agents where they have nothing to say. */
export function isEmptyMac(mac: string): boolean {
  return mac === '00:00:00:00:00:00' || mac === 'ff:ff:ff:ff:ff:ff';
}

/** Whether a MAC, as a number, is of a virtual router: whoever is master answers to it (RFC 5798, 00-00-5E-00-01 for IPv4 and 00-00-5E-00-02 for IPv6). */
export const isVirtualRouterMac = (mac: number): boolean => {
  const high = Math.floor(mac / 0x100);
  return high === 0x00005e0001 || high === 0x00005e0002;
};

/** The hexadecimal digits of a MAC in any notation, or of a part of one, in lower case. */
export const digitsOf = (mac: string): string => mac.replace(/[^0-9a-f]/gi, '').toLowerCase();
