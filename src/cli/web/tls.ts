import { X509Certificate } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readFileSync, unwatchFile, watchFile, writeFileSync } from 'node:fs';
import { hostname, networkInterfaces } from 'node:os';
import path from 'node:path';
import { createSecureContext } from 'node:tls';
import { isIP } from 'node:net';
import { generate } from 'selfsigned';
import { CommandError } from '../exit';

/** Where a certificate and its key lie, in PEM (RFC 7468). */
export interface TlsFiles {
  cert: string;
  key: string;
}

export interface TlsPair {
  cert: string;
  key: string;
}

const everyMs = 2000;
const dayMs = 86_400_000;
const renewBeforeMs = 30 * dayMs;

/** What this machine is called, and its addresses. */
export const ownNames = (): string[] => [
  hostname(),
  ...Object.values(networkInterfaces()).flatMap((list) => (list ?? []).map(({ address }) => address)),
];

/** Reads a certificate with its key. @throws CommandError where one of them cannot be used, or they do not fit each other */
export function readPair({ cert, key }: TlsFiles): TlsPair {
  const read = (what: string, file: string): string => {
    try {
      return readFileSync(file, 'utf8');
    } catch (error) {
      throw new CommandError(
        `The ${what} ${file} cannot be read: ${(error as NodeJS.ErrnoException).code ?? 'unknown'}`,
      );
    }
  };
  const pair = { cert: read('certificate', cert), key: read('key', key) };
  let told: X509Certificate;
  try {
    told = new X509Certificate(pair.cert);
    createSecureContext(pair);
  } catch (error) {
    throw new CommandError(`${cert} and ${key} are no certificate with its key in PEM: ${(error as Error).message}`);
  }
  if (Date.parse(told.validTo) < Date.now()) console.error(`The certificate ${cert} ran out on ${told.validTo}`);
  return pair;
}

/** SHA-256 of a certificate, as browsers show it. */
export const fingerprintOf = (cert: string): string => new X509Certificate(cert).fingerprint256;

/** Calls whenever a certificate or its key was changed to what can be used; what cannot is told of, and the one before stays. @returns stops it */
export function watchPair(files: TlsFiles, changed: (pair: TlsPair) => void): () => void {
  let known = readPair(files);
  const look = () => {
    try {
      const pair = readPair(files);
      if (pair.cert === known.cert && pair.key === known.key) return;
      known = pair;
      changed(pair);
      console.error(
        `The certificate ${files.cert} was changed: it is used from now on, until ${new X509Certificate(pair.cert).validTo}`,
      );
    } catch (error) {
      console.error(`${(error as Error).message}. The one before goes on.`);
    }
  };
  for (const file of [files.cert, files.key]) watchFile(file, { interval: everyMs }, look);
  return () => [files.cert, files.key].forEach((file) => unwatchFile(file, look));
}

/** A certificate of our own for this machine; made anew before it runs out, or when the machine is called otherwise. */
export async function selfSignedFiles(folder: string, told: readonly string[]): Promise<TlsFiles> {
  const place = path.join(folder, 'tls');
  const files = { cert: path.join(place, 'self-signed.pem'), key: path.join(place, 'self-signed.key') };
  const names = [...new Set(['localhost', '127.0.0.1', '::1', ...ownNames(), ...told])].map((name) =>
    name.replace(/%.*$/, ''),
  );
  if (existsSync(files.cert) && existsSync(files.key) && fits(readFileSync(files.cert, 'utf8'), names)) return files;
  const { private: key, cert } = await generate([{ name: 'commonName', value: hostname() }], {
    keyType: 'ec',
    algorithm: 'sha256',
    notAfterDate: new Date(Date.now() + 397 * dayMs),
    extensions: [
      { name: 'basicConstraints', cA: false },
      {
        name: 'subjectAltName',
        altNames: names.map((name) => (isIP(name) ? { type: 7, ip: name } : { type: 2, value: name })),
      },
    ],
  });
  mkdirSync(place, { recursive: true, mode: 0o700 });
  writeFileSync(files.key, key, { mode: 0o600 });
  chmodSync(files.key, 0o600);
  writeFileSync(files.cert, cert, { mode: 0o600 });
  return files;
}

function fits(pem: string, names: readonly string[]): boolean {
  try {
    const cert = new X509Certificate(pem);
    const isTold = (name: string) => (isIP(name) ? cert.checkIP(name) : cert.checkHost(name)) !== undefined;
    return Date.parse(cert.validTo) - Date.now() > renewBeforeMs && names.every(isTold);
  } catch {
    return false;
  }
}
