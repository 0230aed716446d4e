/** What is known of the certificates of services: pinned at the first look, another one is not trusted until somebody says so. */
export interface CertificateMemory {
  /** SHA-256 of the pinned certificate, or null where none was seen yet */
  pinned(address: string, port: number): string | null;
  pin(address: string, port: number, fingerprint: string, subject: string): void;
  /** another certificate was shown */
  offered(address: string, port: number, fingerprint: string): void;
}
