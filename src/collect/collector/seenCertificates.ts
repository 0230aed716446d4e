import type { SeenCertificate } from '../../core/collectors/protocol';
import type { CertificateMemory } from '../https/certificates';

/** The pins that came with a share, and what was seen beyond them: told to the server with the next delivery. */
export class SeenCertificates implements CertificateMemory {
  readonly #pinned = new Map<string, string>();
  #seen: SeenCertificate[] = [];

  constructor(pinned: { address: string; port: number; fingerprint: string }[] = []) {
    this.know(pinned);
  }

  /** Pins of further addresses. */
  know(pinned: { address: string; port: number; fingerprint: string }[]): void {
    for (const { address, port, fingerprint } of pinned) this.#pinned.set(`${address} ${port}`, fingerprint);
  }

  pinned(address: string, port: number): string | null {
    return this.#pinned.get(`${address} ${port}`) ?? null;
  }

  pin(address: string, port: number, fingerprint: string, subject: string): void {
    this.#pinned.set(`${address} ${port}`, fingerprint);
    this.#seen.push({ address, port, fingerprint, subject, as: 'pinned' });
  }

  offered(address: string, port: number, fingerprint: string): void {
    if (
      !this.#seen.some(
        (known) =>
          known.as === 'offered' &&
          known.address === address &&
          known.port === port &&
          known.fingerprint === fingerprint,
      )
    )
      this.#seen.push({ address, port, fingerprint, subject: '', as: 'offered' });
  }

  /** What was not told yet. */
  take(): SeenCertificate[] {
    const seen = this.#seen;
    this.#seen = [];
    return seen;
  }
}
