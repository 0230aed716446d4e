import { createHash } from 'node:crypto';

/** What stands for an image of a release: the same octets whenever it is asked for, and no others have them. */
export function imageContent(name: string, bytes: number): Buffer {
  const parts: Buffer[] = [];
  for (let made = 0, nth = 0; made < bytes; nth++) {
    const part = createHash('sha512').update(`${name} ${nth}`).digest();
    parts.push(part);
    made += part.length;
  }
  return Buffer.concat(parts).subarray(0, bytes);
}
