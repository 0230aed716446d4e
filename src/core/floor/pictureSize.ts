/** What a picture is by its first octets, and how large. */
export interface PictureHead {
  mediaType: 'image/png' | 'image/jpeg';
  width: number;
  height: number;
}

const startsWith = (octets: Uint8Array, head: readonly number[]): boolean =>
  head.every((octet, at) => octets[at] === octet);

/**
 * Reads the size of a PNG (ISO/IEC 15948, the IHDR chunk) or JPEG (ITU-T T.81, the first frame header) without decoding it.
 * @returns null where the octets are neither
 */
export function pictureHead(octets: Uint8Array): PictureHead | null {
  const view = new DataView(octets.buffer, octets.byteOffset, octets.byteLength);
  if (startsWith(octets, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])) {
    if (octets.length < 33 || view.getUint32(12) !== 0x49484452) return null;
    return sized('image/png', view.getUint32(16), view.getUint32(20));
  }
  if (!startsWith(octets, [0xff, 0xd8, 0xff])) return null;
  for (let at = 2; at + 9 < octets.length;) {
    if (octets[at] !== 0xff) return null;
    const marker = octets[at + 1] ?? 0;
    // fill octets, and markers that stand alone
    if (marker === 0xff) at++;
    else if (marker === 0x01 || (marker >= 0xd0 && marker <= 0xd7)) at += 2;
    else if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc)
      return sized('image/jpeg', view.getUint16(at + 7), view.getUint16(at + 5));
    else if (marker === 0xd9 || marker === 0xda) return null;
    else at += 2 + view.getUint16(at + 2);
  }
  return null;
}

const sized = (mediaType: PictureHead['mediaType'], width: number, height: number): PictureHead | null =>
  width > 0 && height > 0 ? { mediaType, width, height } : null;
