import { createPublicKey, diffieHellman, generateKeyPairSync, hkdfSync, type KeyObject } from 'node:crypto';
import { openSecret, sealSecret } from './vault';

/**
 * Secrets on their way to one reader: the reader makes a one-time key pair (X25519, RFC 7748) and sends its public half, the writer answers under a
 * key derived from both (HKDF with SHA-256, RFC 5869; AES-256-GCM). What lies between, a proxy that ends TLS or a log, reads nothing.
 */
export interface LetterBox {
  /** to be sent to the writer: SPKI DER in base64 */
  publicKey: string;
  /** @throws where the letter was written for another box or was changed */
  open(letter: string): unknown;
}

export function newLetterBox(): LetterBox {
  const { publicKey, privateKey } = generateKeyPairSync('x25519');
  return {
    publicKey: spki(publicKey),
    open: (letter) => {
      const [writer = '', body = ''] = letter.split('.');
      return openSecret(sharedKey(privateKey, readKey(writer)), Buffer.from(body, 'base64'));
    },
  };
}

/** @throws where the key is no X25519 key */
export function writeLetter(readerKey: string, secret: unknown): string {
  const { publicKey, privateKey } = generateKeyPairSync('x25519');
  return `${spki(publicKey)}.${sealSecret(sharedKey(privateKey, readKey(readerKey)), secret).toString('base64')}`;
}

const spki = (key: KeyObject) => key.export({ type: 'spki', format: 'der' }).toString('base64');

function readKey(text: string): KeyObject {
  const key = createPublicKey({ key: Buffer.from(text, 'base64'), type: 'spki', format: 'der' });
  if (key.asymmetricKeyType !== 'x25519') throw new Error('is no X25519 key');
  return key;
}

const sharedKey = (privateKey: KeyObject, publicKey: KeyObject) =>
  Buffer.from(hkdfSync('sha256', diffieHellman({ privateKey, publicKey }), '', 'collector credentials', 32));
