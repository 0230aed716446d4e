import { createCipheriv, createDecipheriv, createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { UserCredential } from '../../../core/estate/credential';

/** Keys and transforms of the user-based security model: RFC 3414, RFC 7860 (SHA-2), RFC 3826 (AES-128), AES-256 with the key extension of the Blumenthal draft. */
const hashes = {
  'SHA-1': { name: 'sha1', macLength: 12 },
  'SHA-224': { name: 'sha224', macLength: 16 },
  'SHA-256': { name: 'sha256', macLength: 24 },
  'SHA-384': { name: 'sha384', macLength: 32 },
  'SHA-512': { name: 'sha512', macLength: 48 },
} as const;
const ciphers = {
  'AES-128': { name: 'aes-128-cfb', keyLength: 16 },
  'AES-256': { name: 'aes-256-cfb', keyLength: 32 },
} as const;

const passwordKeys = new Map<string, Buffer>();
const keptPasswords = 64;

/** RFC 3414 A.2: the hash of a megabyte of the repeated password. Costs milliseconds, so it is kept for a while. */
function passwordKey(hash: string, password: string): Buffer {
  const name = `${hash} ${password}`;
  const known = passwordKeys.get(name);
  if (known) return known;
  const key = createHash(hash)
    .update(Buffer.alloc(1_048_576, password, 'utf8'))
    .digest();
  passwordKeys.set(name, key);
  const oldest = passwordKeys.keys().next().value;
  if (passwordKeys.size > keptPasswords && oldest !== undefined) passwordKeys.delete(oldest);
  return key;
}

function localise(hash: string, password: string, engineId: Buffer): Buffer {
  const key = passwordKey(hash, password);
  return createHash(hash).update(key).update(engineId).update(key).digest();
}

/** A key of the wanted length: cut, or extended by the hash of what there is. */
function ofLength(hash: string, key: Buffer, length: number): Buffer {
  let extended = key;
  while (extended.length < length) extended = Buffer.concat([extended, createHash(hash).update(extended).digest()]);
  return extended.subarray(0, length);
}

/** What one user can do on one engine. */
export class UserSecurity {
  /** bits of msgFlags: 1 authentication, 2 privacy */
  readonly flags: number;
  readonly macLength: number;
  readonly #hash: string = '';
  readonly #authKey: Buffer | null = null;
  readonly #cipher: string = '';
  readonly #privKey: Buffer | null = null;
  #salt = randomBytes(8).readBigUInt64BE();

  constructor({ auth, priv }: UserCredential, engineId: Buffer) {
    this.flags = auth ? (priv ? 3 : 1) : 0;
    this.macLength = auth ? hashes[auth.protocol].macLength : 0;
    if (!auth) return;
    this.#hash = hashes[auth.protocol].name;
    this.#authKey = localise(this.#hash, auth.password, engineId);
    if (!priv) return;
    const { name, keyLength } = ciphers[priv.protocol];
    this.#cipher = name;
    this.#privKey = ofLength(this.#hash, localise(this.#hash, priv.password, engineId), keyLength);
  }

  /** The truncated HMAC over a message whose own place for it is zero. */
  mac(message: Buffer): Buffer {
    if (!this.#authKey) return Buffer.alloc(0);
    return createHmac(this.#hash, this.#authKey).update(message).digest().subarray(0, this.macLength);
  }

  macFits(message: Buffer, mac: Buffer): boolean {
    return mac.length === this.macLength && timingSafeEqual(this.mac(message), mac);
  }

  encrypt(plain: Buffer, boots: number, time: number): { cipherText: Buffer; salt: Buffer } {
    if (!this.#privKey) return { cipherText: plain, salt: Buffer.alloc(0) };
    const salt = Buffer.alloc(8);
    salt.writeBigUInt64BE((this.#salt = BigInt.asUintN(64, this.#salt + 1n)));
    const cipher = createCipheriv(this.#cipher, this.#privKey, vector(boots, time, salt));
    return { cipherText: Buffer.concat([cipher.update(plain), cipher.final()]), salt };
  }

  decrypt(cipherText: Buffer, boots: number, time: number, salt: Buffer): Buffer {
    if (!this.#privKey || salt.length !== 8) return cipherText;
    const decipher = createDecipheriv(this.#cipher, this.#privKey, vector(boots, time, salt));
    return Buffer.concat([decipher.update(cipherText), decipher.final()]);
  }
}

/** RFC 3826 section 3.1.2.1: boots, time and salt. */
function vector(boots: number, time: number, salt: Buffer): Buffer {
  const initial = Buffer.alloc(16);
  initial.writeUInt32BE(boots >>> 0, 0);
  initial.writeUInt32BE(time >>> 0, 4);
  salt.copy(initial, 8);
  return initial;
}
