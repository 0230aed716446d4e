import { createHash } from 'node:crypto';
import http from 'node:http';

/** What may be wrong with the way to the image, for as long as it is set. */
export interface FetchIlls {
  /** so many copies break off in their middle */
  breaksOff: number;
  /** so many copies end as something else */
  spoils: number;
  /** octets a second; as fast as may be where it is 0 */
  slow: number;
}

export const wellFetched = (): FetchIlls => ({ breaksOff: 0, spoils: 0, slow: 0 });

/** Fetches an image as equipment does: over HTTP, going on behind what is there already. */
export function fetchImage(
  url: string,
  have: Buffer,
  ills: FetchIlls,
  told: (share: number) => void,
): Promise<{ content: Buffer; isWhole: boolean }> {
  return new Promise((resolve, reject) => {
    const headers = have.length > 0 ? { range: `bytes=${have.length}-` } : {};
    const request = http.get(url, { headers }, (response) => {
      if (response.statusCode !== 200 && response.statusCode !== 206) {
        response.resume();
        reject(new Error(`the server says ${response.statusCode ?? 0}`));
        return;
      }
      const parts: Buffer[] = response.statusCode === 206 ? [have] : [];
      let size = parts.reduce((sum, part) => sum + part.length, 0);
      const all = size + Number(response.headers['content-length'] ?? 0);
      const end = (isWhole: boolean) => {
        const content = Buffer.concat(parts);
        if (isWhole && ills.spoils-- > 0) content[0] = (content[0] ?? 0) ^ 0xff;
        resolve({ content, isWhole });
      };
      response.on('data', (part: Buffer) => {
        parts.push(part);
        size += part.length;
        told(all === 0 ? 1 : size / all);
        if (size > all / 2 && size < all && ills.breaksOff > 0) {
          ills.breaksOff--;
          request.destroy();
          end(false);
        } else if (ills.slow > 0) {
          response.pause();
          setTimeout(() => response.resume(), (part.length / ills.slow) * 1000);
        }
      });
      response.on('end', () => end(true));
      response.on('error', () => end(false));
    });
    request.on('error', reject);
  });
}

export const sha256 = (content: Buffer): string => createHash('sha256').update(content).digest('hex');
