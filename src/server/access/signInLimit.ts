import { createHash } from 'node:crypto';
import path from 'node:path';
import Database from 'better-sqlite3';
import { ownersAlone } from '../../store/base/database';
import { RateLimiterRes, RateLimiterSQLite } from 'rate-limiter-flexible';

/** A try to sign in: with which name, from where, and in which browser that the name was signed in with before. */
export interface Attempt {
  name: string;
  source: string;
  /** null where this browser never signed in with this name */
  device: string | null;
}

/** What a try may cost: it is made, or waits so long. */
export interface Verdict {
  waitSeconds: number;
  /** the wait begins with this very try */
  begins: boolean;
}

/** How many tries fit into a quarter of an hour before a wait begins. */
const triesOf = { device: 10, pair: 5, source: 50, name: 30 } as const;
type Kind = keyof typeof triesOf;
const roundSeconds = 15 * 60;
const remembered = 24 * 3600;

/** Each wait within a day is twice the one before: half a minute, then one, two, and at most an hour. */
export const waitOf = (round: number): number => Math.min(30 * 2 ** (round - 1), 3600);

/** What was tried may be a password in the wrong field: it is kept as a digest alone. */
const digest = (text: string): string => createHash('sha256').update(text).digest('base64url').slice(0, 24);

/**
 * Slows down guessing. Tries are counted before any password is looked at, so that forty at once are forty.
 * They count for a name from a place, for a place, and for a name from everywhere, each with waits that grow. Whoever signed in before with a browser counts
 * there alone: strangers who guess at a name, or from behind the same proxy, keep nobody out who was in.
 */
export class SignInLimit {
  readonly #raw: Database.Database;
  readonly #tries: Record<Kind, RateLimiterSQLite>;
  readonly #rounds: RateLimiterSQLite;

  constructor(folder: string) {
    // a file of its own: tables of the estate need not be read anew for it
    const file = path.join(folder, 'attempts.sqlite');
    ownersAlone(file);
    this.#raw = new Database(file);
    this.#raw.pragma('journal_mode = WAL');
    this.#raw.pragma('busy_timeout = 1000');
    const table = { storeClient: this.#raw, storeType: 'better-sqlite3', tableName: 'attempt' };
    this.#raw.exec(
      'create table if not exists attempt (key text primary key, points integer not null default 0, expire integer)',
    );
    const limiter = (keyPrefix: string, points: number, duration: number) =>
      new RateLimiterSQLite({ ...table, tableCreated: true, clearExpiredByTimeout: true, keyPrefix, points, duration });
    this.#tries = {
      device: limiter('device', triesOf.device, roundSeconds),
      pair: limiter('pair', triesOf.pair, roundSeconds),
      source: limiter('source', triesOf.source, roundSeconds),
      name: limiter('name', triesOf.name, roundSeconds),
    };
    this.#rounds = limiter('rounds', 1_000_000, remembered);
  }

  /** Counts a try. @returns whether it may be made now */
  async count(attempt: Attempt): Promise<Verdict> {
    const verdict: Verdict = { waitSeconds: 0, begins: false };
    for (const [kind, key] of placesOf(attempt)) {
      const { waitSeconds, begins } = await this.#countAt(kind, key);
      verdict.waitSeconds = Math.max(verdict.waitSeconds, waitSeconds);
      verdict.begins ||= begins;
    }
    return verdict;
  }

  /** It was the right password: what was tried before is forgotten; from elsewhere it still counts. */
  async succeeded(attempt: Attempt): Promise<void> {
    for (const [kind, key] of placesOf(attempt)) {
      if (kind === 'device' || kind === 'pair') {
        await this.#tries[kind].delete(key);
        await this.#rounds.delete(`${kind} ${key}`);
      } else await this.#tries[kind].reward(key, 1);
    }
  }

  close(): void {
    this.#raw.close();
  }

  async #countAt(kind: Kind, key: string): Promise<Verdict> {
    try {
      await this.#tries[kind].consume(key);
      return { waitSeconds: 0, begins: false };
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      const begins = refused.consumedPoints === triesOf[kind] + 1;
      if (!begins) return { waitSeconds: Math.max(1, Math.ceil(refused.msBeforeNext / 1000)), begins };
      const { consumedPoints: round } = await this.#rounds.penalty(`${kind} ${key}`, 1);
      await this.#tries[kind].block(key, waitOf(round));
      return { waitSeconds: waitOf(round), begins };
    }
  }
}

function placesOf({ name, source, device }: Attempt): [Kind, string][] {
  const small = name.toLowerCase();
  if (device !== null) return [['device', digest(`${device} ${small}`)]];
  return [
    ['pair', digest(`${source} ${small}`)],
    ['source', digest(source)],
    ['name', digest(small)],
  ];
}

const place = globalThis as { bolideSignInLimit?: { folder: string; limit: SignInLimit } };

/** The one of a data folder. */
export function signInLimitOf(folder: string): SignInLimit {
  if (place.bolideSignInLimit?.folder !== folder) {
    place.bolideSignInLimit?.limit.close();
    place.bolideSignInLimit = { folder, limit: new SignInLimit(folder) };
  }
  return place.bolideSignInLimit.limit;
}
