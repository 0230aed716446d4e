import { createCipheriv, createDecipheriv, randomBytes, scrypt, timingSafeEqual, createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { promisify } from 'node:util';

/** Secrets at rest: AES-256-GCM under a key file that lies beside the database, not in it. */

const keyName = 'key';
export const keyFile = (folder: string): string => path.join(folder, keyName);

/** The key of a data folder is not there, or is none. */
export class NoKey extends Error {}

/** The key in a file. @throws NoKey */
export function readKeyFile(file: string): Buffer {
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new NoKey(
      code === 'ENOENT'
        ? `${file} is missing: stored secrets cannot be read without it. Put it back from where it was kept, readable by its owner only`
        : `${file} cannot be read: ${code ?? 'unknown'}`,
    );
  }
  const key = Buffer.from(text.trim(), 'hex');
  if (key.length !== 32)
    throw new NoKey(
      `${file} does not hold a key of 32 octets: put back the right file, the credentials cannot be read without it`,
    );
  return key;
}

/** The key of a data folder, which is made when its database is. @throws NoKey */
export const vaultKey = (folder: string): Buffer => readKeyFile(keyFile(folder));

/** nonce (12) ‖ tag (16) ‖ ciphertext */
export function sealSecret(key: Buffer, secret: unknown): Buffer {
  const nonce = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', key, nonce);
  const body = Buffer.concat([cipher.update(JSON.stringify(secret), 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), body]);
}

/** @throws if the key is another one or the octets were changed */
export function openSecret(key: Buffer, sealed: Buffer): unknown {
  const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, 12));
  decipher.setAuthTag(sealed.subarray(12, 28));
  return JSON.parse(Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]).toString('utf8'));
}

const derive = promisify(scrypt) as (
  password: string,
  salt: Buffer,
  length: number,
  options: { N: number; r: number; p: number; maxmem: number },
) => Promise<Buffer>;
const cost = { N: 32_768, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };

/** scrypt (RFC 7914) with its parameters in the text, so that they can be raised later. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const hash = await derive(password, salt, 32, cost);
  return ['scrypt', cost.N, cost.r, cost.p, salt.toString('base64'), hash.toString('base64')].join('$');
}

/** Compares in constant time. */
export async function passwordMatches(password: string, stored: string): Promise<boolean> {
  const [scheme, n, r, p, salt = '', hash = ''] = stored.split('$');
  if (scheme !== 'scrypt') return false;
  const expected = Buffer.from(hash, 'base64');
  const actual = await derive(password, Buffer.from(salt, 'base64'), expected.length, {
    N: Number(n),
    r: Number(r),
    p: Number(p),
    maxmem: cost.maxmem,
  });
  return timingSafeEqual(actual, expected);
}

/** Tokens are long and random, so a plain hash suffices. */
export function hashToken(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

export function newToken(): string {
  return `bol_${randomBytes(30).toString('base64url')}`;
}
