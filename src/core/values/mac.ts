/** MAC addresses as canonical lower-case text with colons: `02:4c:91:0e:77:10`. */

/** Six octets to text; null for another length. */
export function macFromOctets(octets: ArrayLike<number>): string | null {
  if (octets.length !== 6) return null;
  let text = '';
  for (let at = 0; at < 6; at++) {
    const digits = hex[octets[at] ?? -1];
    if (digits === undefined) return null;
    text += at === 0 ? digits : `:${digits}`;
  }
  return text;
}

const hex = Array.from({ length: 256 }, (_, octet) => octet.toString(16).padStart(2, '0'));

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
