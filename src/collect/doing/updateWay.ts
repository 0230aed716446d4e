import type { Seen, Start, Ways } from '../../core/firmware/doing/course';

/** Where a device fetches an image, and what it should be. */
export interface CopyWish {
  url: string;
  file: string;
  hash: string;
  bytes: number | null;
  start: Start;
  window: { from: number; until: number } | null;
}

/** A request that changes something, as it goes out. */
export interface SentRequest {
  method: string;
  path: string;
  body: unknown;
}

/** How the firmware of one component of a device is changed. Nothing is sent but by the three acts, each one request. */
export interface UpdateWay {
  ways: Ways;
  /** @throws ResourceError where it does not answer */
  seen(): Promise<Seen>;
  copy(wish: CopyWish): SentRequest;
  setNext(file: string): SentRequest | null;
  restart(): SentRequest | null;
  /** @returns what it said */
  send(request: SentRequest): Promise<string>;
}
