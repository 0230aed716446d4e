import { gunzipSync } from 'node:zlib';
import { readDelivery, type Delivery } from '../../core/collectors/protocol';
import type { HeardMac } from '../snmp/forwardingLookup';
import type { ListeningAsk } from './addressReader';
import type { Scope } from '../../core/estate/scope';
import type { CollectedVisit } from '../../core/estate/visit';
import type { PinnedCertificates } from '../../store/certificates';
import {
  addShares,
  dropDeliveries,
  endShares,
  freeSilent,
  lastHeard,
  sharesOf,
  silentAfterMs,
  takeDelivery,
  waitingDeliveries,
} from '../../store/collectors';
import type { Db } from '../../store/base/database';

/** Whoever asks the addresses of a survey. */
export interface Asking {
  /** Touches quiet endpoints. */
  wake(addresses: string[]): Promise<void>;
  /** Each address once; what was collected is taken as it comes. */
  ask(addresses: string[]): Promise<void>;
  /** Asks switches for single machines once more; absent where nobody here can. */
  listenAgain?(asks: readonly ListeningAsk[], take: (ask: ListeningAsk, heard: HeardMac[]) => void): Promise<void>;
  close(): void;
}

const pollMs = 200;
const smallestShare = 16;
const largestShare = 4096;
/** So many shares a collector, if the scope is large enough: the quicker one gets more of them. */
const sharesEach = 6;

export interface CollectorAskingPlan {
  surveyId: number;
  scope: Scope;
  certificates: PinnedCertificates;
  take: (visit: CollectedVisit) => void;
  cancelled: () => boolean;
  isDone: (address: string) => boolean;
  /** how long none of the collectors may be silent before the survey is sealed without them */
  patienceMs?: number;
}

const defaultPatienceMs = 10 * 60_000;

/** Lets collectors ask: cuts the addresses into shares, takes what they deliver, gives the share of a silent one to another. */
export class CollectorAsking implements Asking {
  constructor(
    readonly db: Db,
    readonly plan: CollectorAskingPlan,
  ) {}

  async wake(addresses: string[]): Promise<void> {
    if (addresses.length > 0) await this.#share('wake', addresses);
  }

  async ask(addresses: string[]): Promise<void> {
    await this.#share('ask', addresses);
    const { surveyId, scope, take, cancelled, isDone } = this.plan;
    if (cancelled()) return dropDeliveries(this.db, surveyId);
    const unheard = addresses.filter((address) => !isDone(address));
    const names = scope.collectors.join(' and ');
    for (const address of unheard) {
      take({
        address,
        outcome: {
          outcome: 'failed',
          reason: `not asked: ${names} ${scope.collectors.length > 1 ? 'were' : 'was'} not heard`,
          remedy:
            'Look at the collector: is it running, and does it reach this server? What it delivers later becomes a survey of its own.',
        },
        credential: '',
        answers: [],
        missing: [],
        phases: {},
        milliseconds: 0,
      });
    }
  }

  close(): void {
    endShares(this.db, this.plan.surveyId);
  }

  async #share(kind: 'wake' | 'ask', addresses: string[]): Promise<void> {
    const { surveyId, scope, certificates, take, cancelled, patienceMs = defaultPatienceMs } = this.plan;
    // what was cut before this process was started again is left as it is: collectors are at work on it
    const cut = new Set(
      sharesOf(this.db, surveyId)
        .filter((own) => own.kind === kind)
        .flatMap((own) => own.addresses),
    );
    const uncut = addresses.filter((address) => !cut.has(address));
    const size = Math.min(
      largestShare,
      Math.max(smallestShare, Math.ceil(uncut.length / (scope.collectors.length * sharesEach))),
    );
    const lists: string[][] = [];
    for (let at = 0; at < uncut.length; at += size) lists.push(uncut.slice(at, at + size));
    addShares(this.db, surveyId, kind, lists);
    const began = Date.now();
    for (;;) {
      freeSilent(this.db, surveyId, new Date(Date.now() - silentAfterMs));
      const ended = sharesOf(this.db, surveyId).every((own) => own.kind !== kind || own.state === 'done');
      const taken = takeWaiting(this.db, surveyId, certificates, take);
      if (cancelled() || (ended && taken === 0)) return;
      if (taken === 0 && Date.now() - Math.max(began, lastHeard(this.db, scope.collectors)) > patienceMs) return;
      if (taken === 0) await new Promise((resolve) => setTimeout(resolve, pollMs));
    }
  }
}

/** Takes what was delivered for a survey that was sealed before; asks nobody. */
export class LateAsking implements Asking {
  constructor(
    readonly db: Db,
    readonly sealed: number,
    readonly certificates: PinnedCertificates,
    readonly take: (visit: CollectedVisit) => void,
  ) {}

  async wake(): Promise<void> {
    // nobody is asked
  }

  async ask(): Promise<void> {
    while (takeWaiting(this.db, this.sealed, this.certificates, this.take) > 0)
      await new Promise((resolve) => setImmediate(resolve));
  }

  close(): void {
    // nothing is open
  }
}

/** Each delivery in one transaction: after a crash it was taken whole, or waits still. */
function takeWaiting(
  db: Db,
  surveyId: number,
  certificates: PinnedCertificates,
  take: (visit: CollectedVisit) => void,
): number {
  const waiting = waitingDeliveries(db, surveyId);
  for (const { id, addresses, body } of waiting) {
    const delivery = opened(body);
    const wanted = new Set(addresses);
    takeDelivery(db, id, () => {
      for (const { address, port, fingerprint, subject, as } of delivery?.certificates ?? []) {
        if (as === 'pinned') certificates.pin(address, port, fingerprint, subject);
        else certificates.offered(address, port, fingerprint);
      }
      for (const visit of delivery?.visits ?? []) if (wanted.has(visit.address)) take(visit);
    });
  }
  return waiting.length;
}

/** It was checked when it arrived: what cannot be read now is a fault of the disk. */
function opened(body: Buffer): Delivery | null {
  const read = readDelivery(JSON.parse(gunzipSync(body).toString('utf8')));
  if ('delivery' in read) return read.delivery;
  console.error(`a delivery could not be read: ${read.path} ${read.message}`);
  return null;
}
