import { TalkStock, type StockHearing, type TalkRows } from '../../../core/flow/talkStock';
import { TalkUntil } from '../../../core/flow/talkUntil';
import type { ServerBasis } from '../../../core/flow/talk';
import { Dictionary } from '../../../core/tables/dictionary';
import type { Db } from '../../../store/base/database';
import { capturesDropped } from '../../../store/talk/captures';
import { lastHearing } from '../../../store/talk/conversations';
import {
  changedSince,
  conversationsHeardIn,
  hearingsBetween,
  hearingsOf,
  lastConversation,
  talkAddressesBehind,
  wholeCaptures,
  type Hearing,
} from '../../../store/talk/hearings';

export const bases: readonly ServerBasis[] = ['port', 'opening', 'listener'];

/** Conversations read at a step. */
const atOnce = 5000;

/** What captures heard up to a moment. */
export interface Heard {
  stock: TalkRows;
  /** addresses that talk; rows of the stock name them by their number here */
  addresses: Dictionary;
  /** what is another whenever what is held here is */
  stamp: string;
}

/** All that captures heard, in memory: read once, and from then on only what changed. */
export class HeardTalk implements Heard {
  readonly stock = new TalkStock();
  /** addresses that talk; rows of the stock name them by their number here */
  readonly addresses = new Dictionary();
  #codes = new Uint32Array(1024);
  #lastAddress = 0;
  #points = new Map<number, string>();
  #lastWrite = 0;
  #dropped = 0;
  /** conversations up to this number are read; null where nothing is yet */
  #readTo: number | null = null;
  #last = 0;
  #isRead = false;

  constructor(readonly db: Db) {}

  get isRead(): boolean {
    return this.#isRead;
  }

  /** What is another whenever what is held here is. */
  get stamp(): string {
    return `${this.#lastWrite} ${this.stock.size} ${[...this.#points.keys()].at(-1) ?? 0} ${this.#points.size}`;
  }

  /** What of it began by a moment, in seconds since the epoch: not read again. */
  until(seconds: number): Heard {
    return { stock: new TalkUntil(this.stock, seconds), addresses: this.addresses, stamp: this.stamp };
  }

  /** Reads what there is, a step at a time; whoever else reads goes on where another one is. */
  *reading(): Generator<void> {
    if (this.#readTo === null) {
      this.#readTo = 0;
      this.#readAround();
      this.#lastWrite = lastHearing(this.db);
      this.#last = lastConversation(this.db);
      this.stock.reserve(this.#last);
    }
    while (this.#readTo < this.#last) {
      const behind = this.#readTo;
      this.#readTo += atOnce;
      this.#take(hearingsBetween(this.db, behind, this.#readTo));
      yield;
    }
    this.#isRead = true;
  }

  /** Takes in what was heard since. @returns whether what is held here may be gone: then all is to be read anew */
  refresh(): boolean {
    // what came while it was read is taken in with the rest
    if (!this.#isRead) for (const _ of this.reading());
    const before = this.#points;
    const dropped = this.#dropped;
    const since = this.#lastWrite;
    this.#readAround();
    if (this.#dropped !== dropped) return true;
    this.#lastWrite = lastHearing(this.db);
    const changed = new Set(this.#lastWrite > since ? changedSince(this.db, since) : []);
    for (const id of this.#points.keys())
      if (!before.has(id)) for (const conversation of conversationsHeardIn(this.db, id)) changed.add(conversation);
    const all = [...changed].sort((x, y) => x - y);
    for (let from = 0; from < all.length; from += atOnce)
      this.#take(hearingsOf(this.db, all.slice(from, from + atOnce)));
    return false;
  }

  #readAround(): void {
    this.#dropped = capturesDropped(this.db);
    this.#points = new Map(wholeCaptures(this.db).map(({ id, point }) => [id, point]));
    for (const [id, address] of talkAddressesBehind(this.db, this.#lastAddress)) {
      if (id >= this.#codes.length) {
        const wider = new Uint32Array(Math.max(id + 1, this.#codes.length * 2));
        wider.set(this.#codes);
        this.#codes = wider;
      }
      this.#codes[id] = this.addresses.codeOf(address);
      this.#lastAddress = id;
    }
  }

  /** @param hearings conversation by conversation */
  #take(hearings: Iterable<Hearing>): void {
    let own: StockHearing[] = [];
    let of: Hearing | null = null;
    const keep = () => {
      if (of && own.length > 0)
        this.stock.set(
          of[0],
          {
            client: this.#codes[of[1]] ?? 0,
            server: this.#codes[of[2]] ?? 0,
            port: of[3],
            protocol: of[4],
            basis: bases.indexOf(of[5]),
          },
          own,
        );
      own = [];
    };
    for (const hearing of hearings) {
      if (of && of[0] !== hearing[0]) keep();
      of = hearing;
      const point = this.#points.get(hearing[6]);
      if (point === undefined) continue;
      own.push({
        point,
        events: hearing[7],
        packets: hearing[8],
        octetsToServer: hearing[9],
        octetsToClient: hearing[10],
        firstSeen: hearing[11],
        lastSeen: hearing[12],
        hours: hearing[13],
      });
    }
    keep();
  }
}
