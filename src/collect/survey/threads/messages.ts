import type { SeenCertificate } from '../../../core/collectors/protocol';
import type { Credential } from '../../../core/estate/credential';
import type { Scope } from '../../../core/estate/scope';
import type { AddressHint, CollectedVisit } from '../../../core/estate/visit';
import type { Signature } from '../../../core/signatures/signature';

/** The certificate that is pinned for a service. */
export type Pin = Pick<SeenCertificate, 'address' | 'port' | 'fingerprint'>;

/** What a reader thread is started with: plain data. */
export interface ThreadPlan {
  /** without its addresses, which come with each order */
  scope: Omit<Scope, 'follows'>;
  credentials: Credential[];
  signatures: Signature[];
  packetsPerSecond: number;
  /** how many addresses this thread asks at once */
  atOnce: number;
  /** one 32-bit integer, shared: not 0 once the survey is cancelled */
  cancelled: SharedArrayBuffer;
}

/** To a thread: addresses to ask, with the pins of their services, the word that a visit was taken, or that the survey is over. */
export type ToThread =
  | { kind: 'ask'; addresses: string[]; hints: Record<string, AddressHint>; pinned: Pin[] }
  | { kind: 'taken'; visit: number }
  | { kind: 'close' };

/** From a thread: a visit to be taken, an address whose reading begins, the word that all addresses of an order were asked. */
export type FromThread =
  | { kind: 'visit'; number: number; visit: CollectedVisit; certificates: SeenCertificate[] }
  | { kind: 'reading'; address: string; credential: string }
  | { kind: 'asked' };
