import { seenOnce, type CountedAt } from './seenOnce';

/** The ends of a conversation, by the numbers of addresses, and who serves by what. */
export interface StockEnds {
  client: number;
  server: number;
  port: number;
  protocol: number;
  basis: number;
}

/** What one capture heard of a conversation. */
export interface StockHearing extends CountedAt {
  /** seconds since the epoch */
  firstSeen: number;
  lastSeen: number;
}

const numbers = [
  'client',
  'server',
  'port',
  'protocol',
  'basis',
  'points',
  'activeHours',
  'daysLow',
  'daysHigh',
] as const;
const counts = ['events', 'packets', 'bytesToServer', 'bytesToClient', 'firstSeen', 'lastSeen'] as const;
export type StockNumber = (typeof numbers)[number];
export type StockCount = (typeof counts)[number];

/** Conversations by row, to be read. */
export interface TalkRows {
  readonly size: number;
  /** sets of places of capture, by the number in `points` */
  readonly pointSets: readonly (readonly string[])[];
  /** By row; not to be kept beyond the next change. */
  column(field: StockNumber): Uint32Array;
  count(field: StockCount): Float64Array;
  /** One value, without making a column. */
  at(field: StockNumber | StockCount, row: number): number;
  /** Numbers of conversations, by row. */
  conversations(): Uint32Array;
  /** -1 where there is none. */
  rowOf(conversation: number): number;
}

const firstRoom = 1024;
/** Rows that were written down again are kept in mind up to so many. */
const mostNoted = 1_000_000;
const daySeconds = 86_400;
const hoursADay = 24;

/** So many days back it is kept on which of them a conversation was heard. */
export const daysKept = 64;

/** A bit for each day on which anything was heard, by its number (days since the epoch, UTC) modulo 64: of the days up to the last one. */
function daysOf(heard: readonly StockHearing[], last: number): { low: number; high: number } {
  let [low, high] = [0, 0];
  for (const { hours } of heard)
    for (const hour of hours) {
      const day = Math.floor(hour / hoursADay);
      if (day <= last - daysKept || day > last) continue;
      const bit = day % daysKept;
      if (bit < 32) low |= 1 << bit;
      else high |= 1 << (bit - 32);
    }
  return { low: low >>> 0, high: high >>> 0 };
}

/**
 * Conversations by the million: a row each, some sixty octets, in arrays that grow. A conversation has a number that it keeps; its row is found by it. Points are sets of places of capture,
 * each set once.
 */
export class TalkStock implements TalkRows {
  size = 0;
  /** sets of places of capture, by the number in `points` */
  readonly pointSets: string[][] = [];
  readonly #setNumbers = new Map<string, number>();
  #rows = new Uint32Array(firstRoom);
  #room = firstRoom;
  #numberOf = new Uint32Array(firstRoom);
  readonly #own = {} as Record<StockNumber, Uint32Array> & Record<StockCount, Float64Array>;
  /** rows that were there already and were written down again, as it came; how many were forgotten before them */
  #rewritten: number[] = [];
  #forgotten = 0;

  constructor() {
    for (const field of numbers) this.#own[field] = new Uint32Array(firstRoom);
    for (const field of counts) this.#own[field] = new Float64Array(firstRoom);
  }

  /** By row; not to be kept beyond the next change. */
  column(field: StockNumber): Uint32Array {
    return this.#own[field].subarray(0, this.size);
  }

  count(field: StockCount): Float64Array {
    return this.#own[field].subarray(0, this.size);
  }

  at(field: StockNumber | StockCount, row: number): number {
    return this.#own[field][row] ?? 0;
  }

  /** Numbers of conversations, by row. */
  conversations(): Uint32Array {
    return this.#numberOf.subarray(0, this.size);
  }

  /** -1 where there is none. */
  rowOf(conversation: number): number {
    return (this.#rows[conversation] ?? 0) - 1;
  }

  /** How much was written down again so far: `rewrittenSince` tells by it what was later. */
  get mark(): number {
    return this.#forgotten + this.#rewritten.length;
  }

  /** Rows that were written down again since a mark, each once; null where that is not known any more. */
  rewrittenSince(mark: number): Uint32Array | null {
    if (mark < this.#forgotten) return null;
    return Uint32Array.from(new Set(this.#rewritten.slice(mark - this.#forgotten)));
  }

  /** Makes room for so many conversations at once: to grow bit by bit would copy all of them again and again. */
  reserve(size: number): void {
    while (this.#room < size) this.#room *= 2;
    this.#widen();
  }

  /** Writes down all that was heard of a conversation, in place of what was known of it. @param heard at least one */
  set(conversation: number, ends: StockEnds, heard: readonly StockHearing[]): void {
    const there = this.size;
    const row = this.#rowFor(conversation);
    if (row < there) this.#note(row);
    const own = this.#own;
    own.client[row] = ends.client;
    own.server[row] = ends.server;
    own.port[row] = ends.port;
    own.protocol[row] = ends.protocol;
    own.basis[row] = ends.basis;
    const [only] = heard;
    const total = heard.length === 1 && only ? only : seenOnce(heard);
    own.events[row] = total.events;
    own.packets[row] = total.packets;
    own.bytesToServer[row] = total.octetsToServer;
    own.bytesToClient[row] = total.octetsToClient;
    own.activeHours[row] = total.hours.length;
    let [first, last] = [Infinity, 0];
    for (const { firstSeen, lastSeen } of heard) {
      if (firstSeen < first) first = firstSeen;
      if (lastSeen > last) last = lastSeen;
    }
    const { low, high } = daysOf(heard, Math.floor(last / daySeconds));
    own.daysLow[row] = low;
    own.daysHigh[row] = high;
    own.firstSeen[row] = first;
    own.lastSeen[row] = last;
    own.points[row] = this.#setOf(heard);
  }

  #note(row: number): void {
    if (this.#rewritten.length === mostNoted) {
      this.#forgotten += mostNoted;
      this.#rewritten = [];
    }
    this.#rewritten.push(row);
  }

  #rowFor(conversation: number): number {
    if (conversation >= this.#rows.length) {
      const wider = new Uint32Array(Math.max(conversation + 1, this.#rows.length * 2));
      wider.set(this.#rows);
      this.#rows = wider;
    }
    const known = this.#rows[conversation] ?? 0;
    if (known > 0) return known - 1;
    if (this.size === this.#room) this.#grow();
    const row = this.size++;
    this.#rows[conversation] = row + 1;
    this.#numberOf[row] = conversation;
    return row;
  }

  #grow(): void {
    this.#room *= 2;
    this.#widen();
  }

  #widen(): void {
    const wider = <Kept extends Uint32Array | Float64Array>(kept: Kept): Kept => {
      const grown = new (kept.constructor as new (size: number) => Kept)(this.#room);
      grown.set(kept);
      return grown;
    };
    this.#numberOf = wider(this.#numberOf);
    for (const field of numbers) this.#own[field] = wider(this.#own[field]);
    for (const field of counts) this.#own[field] = wider(this.#own[field]);
  }

  #setOf(heard: readonly StockHearing[]): number {
    const [only] = heard;
    const key =
      heard.length === 1 && only ? only.point : [...new Set(heard.map(({ point }) => point))].sort().join('\n');
    let known = this.#setNumbers.get(key);
    if (known === undefined) {
      this.#setNumbers.set(key, (known = this.pointSets.length));
      this.pointSets.push(key.split('\n'));
    }
    return known;
  }
}
