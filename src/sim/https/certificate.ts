import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { generate } from 'selfsigned';

export interface SelfSigned {
  key: string;
  cert: string;
}

/** A certificate of its own for a stand-in, as management controllers and small controllers ship with. */
export async function selfSigned(commonName: string, address: string): Promise<SelfSigned> {
  const { private: key, cert } = await generate([{ name: 'commonName', value: commonName }], {
    keyType: 'ec',
    algorithm: 'sha256',
    extensions: [
      { name: 'basicConstraints', cA: true },
      { name: 'subjectAltName', altNames: [{ type: 7, ip: address }] },
    ],
  });
  return { key, cert };
}

/** Certificates by address, so that a stand-in that is started again is known again. Kept in a file, or not at all. */
export class CertificateDrawer {
  readonly #known: Record<string, SelfSigned>;

  constructor(readonly file: string | null) {
    this.#known =
      file !== null && existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Record<string, SelfSigned>) : {};
  }

  async of(commonName: string, address: string): Promise<SelfSigned> {
    const known = this.#known[address];
    if (known) return known;
    const made = await selfSigned(commonName, address);
    this.#known[address] = made;
    if (this.file !== null) writeFileSync(this.file, JSON.stringify(this.#known), { mode: 0o600 });
    return made;
  }
}
