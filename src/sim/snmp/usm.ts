import { createCipheriv, createDecipheriv, createHash, createHmac, randomBytes } from 'node:crypto';

/** The user-based security model of SNMPv3 (RFC 3414, RFC 7860, RFC 3826) from the agent's side. */
export interface AgentUser {
  name: string;
  authProtocol: 'SHA-1' | 'SHA-224' | 'SHA-256' | 'SHA-384' | 'SHA-512';
  authPassword: string;
  privProtocol: 'AES-128';
  privPassword: string;
  /** may set what can be set, not only read */
  writes?: boolean;
}

const hashes = {
  'SHA-1': { name: 'sha1', macLength: 12 },
  'SHA-224': { name: 'sha224', macLength: 16 },
  'SHA-256': { name: 'sha256', macLength: 24 },
  'SHA-384': { name: 'sha384', macLength: 32 },
  'SHA-512': { name: 'sha512', macLength: 48 },
} as const;

const expanded = new Map<string, Buffer>();

/** Password to key to localised key, RFC 3414 A.2: a megabyte of repeated password, hashed, bound to the engine. */
function localisedKey(hashName: string, password: string, engineId: Buffer): Buffer {
  const cacheKey = `${hashName} ${password}`;
  let key = expanded.get(cacheKey);
  if (!key) {
    const megabyte = Buffer.alloc(1_048_576, password, 'utf8');
    key = createHash(hashName).update(megabyte).digest();
    expanded.set(cacheKey, key);
  }
  return createHash(hashName).update(key).update(engineId).update(key).digest();
}

/** The keys of one user on one engine. */
export class UserKeys {
  readonly macLength: number;
  readonly #hashName: string;
  readonly #authKey: Buffer;
  readonly #privKey: Buffer;

  constructor(
    readonly user: AgentUser,
    engineId: Buffer,
  ) {
    const { name, macLength } = hashes[user.authProtocol];
    this.#hashName = name;
    this.macLength = macLength;
    this.#authKey = localisedKey(name, user.authPassword, engineId);
    this.#privKey = localisedKey(name, user.privPassword, engineId).subarray(0, 16);
  }

  /** The truncated HMAC over a whole message whose own place is zeroed. */
  mac(message: Buffer): Buffer {
    return createHmac(this.#hashName, this.#authKey).update(message).digest().subarray(0, this.macLength);
  }

  encrypt(plain: Buffer, boots: number, time: number): { cipher: Buffer; salt: Buffer } {
    const salt = randomBytes(8);
    const aes = createCipheriv('aes-128-cfb', this.#privKey, initialVector(boots, time, salt));
    return { cipher: Buffer.concat([aes.update(plain), aes.final()]), salt };
  }

  decrypt(cipher: Buffer, boots: number, time: number, salt: Buffer): Buffer {
    const aes = createDecipheriv('aes-128-cfb', this.#privKey, initialVector(boots, time, salt));
    return Buffer.concat([aes.update(cipher), aes.final()]);
  }
}

function initialVector(boots: number, time: number, salt: Buffer): Buffer {
  const vector = Buffer.alloc(16);
  vector.writeUInt32BE(boots, 0);
  vector.writeUInt32BE(time, 4);
  salt.copy(vector, 8);
  return vector;
}
