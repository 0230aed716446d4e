import type { DeviceFacts, ServiceFacts } from '../../../core/estate/facts';
import { valueAt, type ColumnSource } from '../../../core/tables/column';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';
import { lastAnswers } from '../../../store/base/latestOutcomes';
import { captureStamp, capturesBegunBy, capturesDropped } from '../../../store/talk/captures';
import { Calendar } from '../calendar';
import { ConversationsTable, mostExact, type TalkAround } from '../tables/conversationsTable';
import { AddressOwners } from './addressOwners';
import { EndWords, HeardEnds } from './heardEnds';
import { HeardTalk, type Heard } from './heardTalk';
import { toldTalk } from './toldTalk';

/** What else of an estate talk follows from. */
export interface EstateAround {
  siteOf: (survey: number) => (deviceId: number) => string;
  endpoints: (survey: number) => ColumnSource;
}

/** What follows from surveys alone: it is made once for each. */
type OfSurvey = Omit<TalkAround, 'heard' | 'ends'>;

/** Past moments whose talk is kept in memory. */
const mostPast = 2;

/** The newest table that is whole, where the next one is made a step at a time. */
interface Ready {
  survey: number;
  captures: string;
  stamp: string;
  table: ConversationsTable;
  /** when it was seen that there is more than it has; null while there is not */
  behindSince: number | null;
}

/** So long what comes by the minute may wait until it is made ready; then it is taken in at once. */
const mostBehindMs = 120_000;

/** Tables of conversations at the newest moment, where they grow with what is heard, and at past ones. */
export class TalkTables {
  #now: HeardTalk;
  #stamp = '';
  #words = new EndWords();
  readonly #then = new Map<string, Heard>();
  #ready: Ready | null = null;
  #isPreparing = false;
  #forgotten = 0;
  readonly #tables = new Map<number, { stamp: string; around: OfSurvey; table: ConversationsTable }>();

  constructor(
    readonly db: Db,
    readonly estate: EstateAround,
    /** fewer conversations are taken in at once */
    readonly many = mostExact,
  ) {
    this.#now = new HeardTalk(db);
  }

  get isRead(): boolean {
    return this.#now.isRead;
  }

  /** Reads what was heard, a step at a time. */
  reading(): Generator<void> {
    return this.#now.reading();
  }

  /**
   * The table of the newest moment made anew with all that came, a step at a time; until it is whole, who asks gets the one before: of millions of conversations what comes by the minute is a moment late, and nobody waits for it. A capture that somebody took in is there at once.
   */
  *preparing(survey: number, newest: number): Generator<void> {
    if (survey < newest) return;
    const [forgotten, stamp] = [this.#forgotten, captureStamp(this.db)];
    if (this.#ready?.stamp === stamp && this.#ready.survey === survey) return;
    this.#isPreparing = true;
    let table: ConversationsTable;
    try {
      table = this.at(survey, newest);
    } finally {
      this.#isPreparing = false;
    }
    yield;
    yield* table.making();
    if (forgotten !== this.#forgotten) return;
    this.#ready =
      table.size < this.many ? null : { survey, captures: capturesIn(stamp), stamp, table, behindSince: null };
  }

  #readyAt(survey: number): ConversationsTable | null {
    const ready = this.#ready;
    if (this.#isPreparing || ready?.survey !== survey) return null;
    const stamp = captureStamp(this.db);
    if (stamp === ready.stamp) return ready.table;
    if (capturesIn(stamp) !== ready.captures) return null;
    ready.behindSince ??= performance.now();
    return performance.now() - ready.behindSince < mostBehindMs ? ready.table : null;
  }

  at(survey: number, newest: number): ConversationsTable {
    const ready = survey >= newest ? this.#readyAt(survey) : null;
    if (ready) return ready;
    const heard = survey >= newest ? this.#heardNow() : this.#heardUntil(survey);
    const kept = this.#tables.get(survey);
    if (kept && kept.stamp === heard.stamp) return kept.table;
    const around = kept?.around ?? this.#aroundOf(survey);
    const before = kept?.table.around.ends;
    const ends = before?.heard === heard ? before : new HeardEnds(heard, around, this.#words);
    const table = new ConversationsTable(this.db, { ...around, heard, ends }, kept?.table, this.many);
    this.#tables.delete(survey);
    this.#tables.set(survey, { stamp: heard.stamp, around, table });
    for (const old of [...this.#tables.keys()].filter((one) => one < newest).slice(0, -mostPast))
      this.#tables.delete(old);
    return table;
  }

  /** Who is who is not what it was. What was heard stays. */
  forget(): void {
    this.#tables.clear();
    this.#ready = null;
    this.#forgotten++;
    this.#words = new EndWords();
  }

  #heardNow(): HeardTalk {
    const stamp = captureStamp(this.db);
    if (stamp === this.#stamp) return this.#now;
    if (this.#now.refresh()) {
      this.#now = new HeardTalk(this.db);
      this.#now.refresh();
    }
    this.#stamp = stamp;
    return this.#now;
  }

  #heardUntil(survey: number): Heard {
    const until = Date.parse(new Calendar(this.db).momentOf(survey)) / 1000;
    // what comes later has nothing from before it
    const key = [survey, capturesBegunBy(this.db, until), capturesDropped(this.db)].join(' ');
    let known = this.#then.get(key);
    if (!known) {
      for (const old of [...this.#then.keys()].slice(0, Math.max(0, this.#then.size - mostPast + 1)))
        this.#then.delete(old);
      this.#then.set(key, (known = (this.#ready ? this.#now : this.#heardNow()).until(until)));
    }
    return known;
  }

  #aroundOf(survey: number): OfSurvey {
    const { db } = this;
    const calendar = new Calendar(db);
    const processes = new Map(
      factsAsOf<ServiceFacts>(db, 'service', survey).map(({ deviceId, content }) => [
        `${deviceId} ${content.protocol} ${content.port}`,
        content.process,
      ]),
    );
    const hanging = placesOf(this.estate.endpoints(survey));
    const answered = lastAnswers(db, survey);
    const owners = new AddressOwners(db, survey);
    const siteOf = this.estate.siteOf(survey);
    const sites = new Map(
      factsAsOf<DeviceFacts>(db, 'device', survey).map(({ deviceId, content }) => [deviceId, content.site]),
    );
    return {
      told: toldTalk(db, survey, calendar.between(0, survey)),
      owners,
      siteOf: (deviceId) => (deviceId === 0 ? '' : siteOf(deviceId) || (sites.get(deviceId) ?? '')),
      hangsOn: (address) => hanging.get(address) ?? 0,
      processAt: (deviceId, protocol, port) => processes.get(`${deviceId} ${protocol} ${port}`) ?? '',
      momentOf: calendar.momentOf,
      viewed: calendar.momentOf(survey),
      answeredIn: (deviceId) => answered.get(deviceId) ?? 0,
    };
  }
}

/** Which captures there are, without what came of those that are live. */
const capturesIn = (stamp: string): string => stamp.split(' ').slice(0, 2).join(' ');

/** At which device endpoints hang, by their addresses; what hangs at several is nowhere. */
function placesOf(endpoints: ColumnSource): Map<string, number> {
  const found = new Map<string, number>();
  if (endpoints.size === 0) return found;
  const [addresses, devices] = [endpoints.column('addresses'), endpoints.column('deviceId')];
  for (let row = 0; row < endpoints.size; row++) {
    const device = Number(valueAt(devices, row)) || 0;
    for (const address of valueAt(addresses, row) as string[])
      found.set(address, found.has(address) && found.get(address) !== device ? 0 : device);
  }
  return found;
}
