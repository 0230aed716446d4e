import type { StockCount, StockNumber } from '../../../core/flow/talkStock';
import { daysKept, TalkStock } from '../../../core/flow/talkStock';
import { TalkUntil } from '../../../core/flow/talkUntil';
import { otherSteps, things } from '../../../core/things/things';
import { endsOfConversation, protocolName } from '../../../core/flow/talk';
import { columnOf, constantColumn, everyRow, lazyColumn, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import { grownColumn, numberColumn, numberColumnInSteps, type NumberColumn } from '../../../core/tables/numberColumn';
import { atOnce, rowsInStep, type Steps } from '../../../core/steps';
import type { Db } from '../../../store/base/database';
import { conversationNumber } from '../../../store/talk/conversations';
import type { AroundEnds, End, EndFieldName, HeardEnds } from '../talk/heardEnds';
import { bases, type Heard } from '../talk/heardTalk';
import type { ToldTalk } from '../talk/toldTalk';
import type { ThingRow } from '../rows/thingRow';
import type { ThingTable } from './thingTable';

/** What a table of conversations follows from. */
export interface TalkAround extends AroundEnds {
  heard: Heard;
  ends: HeardEnds;
  told: ReadonlyMap<string, ToldTalk>;
  /** when a survey was, the one that is viewed, and when a device answered last */
  momentOf: (survey: number) => string;
  viewed: string;
  answeredIn: (deviceId: number) => number;
}

const daySeconds = 86_400;
/** Up to so many rows moments stand in columns as they are; beyond that, to the minute. */
export const mostExact = 200_000;

/** By which number of `bases` a conversation that devices tell of serves. */
const byListener = bases.indexOf('listener');
const servesWords = ['the numbers of the ports', 'who opened it', 'its listener'];
/** How it is known: a survey sees what is open at its moment, a capture hears all the while. */
const heardWords = ['surveys and captures', 'captures', 'surveys'];
const protocolNames = new Map<string, number>(
  Array.from({ length: 256 }, (_, protocol) => [protocolName(protocol), protocol] as const),
);

const counted = ['events', 'packets', 'bytes', 'bytesToServer', 'bytesToClient'] as const;
type Counted = (typeof counted)[number];
/** Fields of which all rows are asked by most: by any word, and for the pictures. */
const askedFields = [
  ...(['Name', 'Process', 'Address', 'Site', 'Network', 'Device'] as const).flatMap((of) => [
    `client${of}`,
    `server${of}`,
  ]),
  ...['protocol', 'port', 'sources', 'heardBy', 'serves', 'samples', 'activeHours', 'firstSeen', 'lastSeen'],
];
/** Columns that grow with the table. */
const growingFields = ['activeHours', 'firstSeen', 'lastSeen'] as const;
type GrowingField = (typeof growingFields)[number];
const isGrowing = (field: string): field is GrowingField => (growingFields as readonly string[]).includes(field);
const endFields: readonly EndFieldName[] = ['Name', 'Site', 'Network', 'Device'];

/** What a table takes over from the one before. */
interface Before {
  numbers: ReadonlyMap<GrowingField, NumberColumn>;
  /** rows that it had */
  from: number;
  /** those of them that may be others by now */
  changed: Uint32Array;
}
const isCounted = (field: string): field is Counted => (counted as readonly string[]).includes(field);

/** Who talks to whom: rows of what captures heard, then of what only devices tell. What both know of is one row. */
export class ConversationsTable implements ThingTable {
  readonly size: number;
  /** where moments stand to the minute in columns: rows tell them as they are */
  readonly coarse: ReadonlySet<string>;
  readonly #heard: number;
  readonly #told = new Map<number, ToldTalk>();
  readonly #extra: ToldTalk[] = [];
  readonly #extraRows = new Map<string, number>();
  readonly #columns = new Map<string, Column>();
  readonly #devices = new Map<End, Uint32Array>();
  readonly #kept = new Map<string, Float64Array>();
  readonly #numbers = new Map<GrowingField, NumberColumn>();
  /** the table of before, until this one is made of it */
  #before: Before | null;
  /** how much of what was heard had been written down again when this table was made */
  readonly #mark: number;
  #lastDay: number | null = null;
  #toldRows: Uint8Array | null = null;
  #daysOfAll: { newest: number; counts: Uint32Array } | null = null;

  constructor(
    readonly db: Db,
    readonly around: TalkAround,
    /** of the same survey, with less of what was heard */
    before: ConversationsTable | null = null,
    /** up to so many rows moments stand in columns as they are */
    readonly most = mostExact,
  ) {
    const { stock } = around.heard;
    this.#heard = stock.size;
    this.#mark = stock instanceof TalkStock ? stock.mark : 0;
    this.#before = before && this.#whatChanged(before);
    for (const told of around.told.values()) {
      const row = this.#heardRow(told.id);
      if (row >= 0) this.#told.set(row, told);
      else {
        const extra = this.#heard + this.#extra.length;
        this.#told.set(extra, told);
        this.#extraRows.set(told.id, extra);
        this.#extra.push(told);
      }
    }
    this.size = this.#heard + this.#extra.length;
    this.coarse = new Set(this.size > most ? ['firstSeen', 'lastSeen'] : []);
  }

  column = (field: string): Column => {
    let column = this.#columns.get(field);
    if (!column) this.#columns.set(field, (column = this.#make(field)));
    return column;
  };

  /** Of those that were heard when this table was made: more may have come since. */
  #column(field: StockNumber): Uint32Array {
    return this.around.heard.stock.column(field).subarray(0, this.#heard);
  }

  #count(field: StockCount): Float64Array {
    return this.around.heard.stock.count(field).subarray(0, this.#heard);
  }

  /** By row, where it is a number that is nearly another in each row. */
  numbersOf = (field: string): Float64Array | undefined =>
    isCounted(field) ? this.#keep(field, () => this.#counts(field)) : undefined;

  /** What most questions ask of all rows, made one after the other: of millions each takes a moment. */
  *making(): Generator<void> {
    for (const end of ['client', 'server'] as const) {
      yield* this.around.ends.fillingDevices(end);
      this.devicesAt(end);
      yield;
      for (const field of endFields) yield* this.around.ends.filling(end, field);
    }
    for (const field of askedFields) {
      if (isGrowing(field) && !this.#columns.has(field)) this.#columns.set(field, yield* this.#growing(field));
      // some are made only when they are looked at
      void this.column(field).codes;
      yield;
    }
    for (const field of counted) {
      this.numbersOf(field);
      yield;
    }
    // in their order the rows stand on the first page
    for (const { name, kind } of things.conversations.fields)
      if (this.order.includes(name) && !isCounted(name)) yield* this.column(name).dictionary.ranking(kind);
    this.octets();
    yield;
    this.weights();
    yield;
    yield* this.#countingDays();
    this.#before = null;
  }

  /** What is another than in a table of before; null where that is not known. */
  #whatChanged(before: ConversationsTable): Before | null {
    const { heard, told } = this.around;
    before.#before = null;
    if (!(heard.stock instanceof TalkStock) || before.around.heard !== heard || before.around.told !== told)
      return null;
    const rewritten = heard.stock.rewrittenSince(before.#mark);
    return (
      rewritten && {
        numbers: before.#numbers,
        from: before.#heard,
        changed: rewritten.filter((row) => row < before.#heard),
      }
    );
  }

  /** By row: which device an end was when it was heard last, 0 for none that is known. */
  devicesAt(end: End): Uint32Array {
    let devices = this.#devices.get(end);
    if (!devices) this.#devices.set(end, (devices = this.#findDevices(end)));
    return devices;
  }

  /** By row: connections or surveys, whichever are more: how much there is of it. */
  weights(): Float64Array {
    return this.#keep('weights', () => this.#weights());
  }

  #weights(): Float64Array {
    const weights = new Float64Array(this.size).fill(1);
    const events = this.#count('events');
    for (let row = 0; row < this.#heard; row++) weights[row] = Math.max(1, events[row] ?? 0);
    for (const [row, { samples }] of this.#told) weights[row] = Math.max(weights[row] ?? 0, samples);
    return weights;
  }

  /** By row: octets that were heard, both ways. */
  octets(): Float64Array {
    return this.#keep('octets', () => {
      const bytes = this.#keep('bytes', () => this.#counts('bytes'));
      return this.#extra.length === 0 ? bytes : bytes.slice().fill(0, this.#heard);
    });
  }

  /** By row: when it was heard or told first, in seconds since the epoch. */
  firstSeconds(): Float64Array {
    return this.#seconds('firstSeen');
  }

  /** By row: when it was heard or told last, in seconds since the epoch. */
  lastSeconds(): Float64Array {
    return this.#seconds('lastSeen');
  }

  /** By day, the newest last: on how many of some rows anything was heard that day. @param newest the last day that is told, days since the epoch */
  countDays(rows: Uint32Array, newest: number): Uint32Array {
    if (rows.length < this.size) return this.#countDays(rows, newest);
    if (this.#daysOfAll?.newest !== newest) this.#daysOfAll = { newest, counts: this.#countDays(rows, newest) };
    return this.#daysOfAll.counts;
  }

  *#countingDays(): Generator<void> {
    const newest = this.lastDay();
    const rows = everyRow(this.size);
    const counts = new Uint32Array(daysKept);
    for (let from = 0; from < rows.length; from += rowsInStep) {
      const own = this.#countDays(rows.subarray(from, from + rowsInStep), newest);
      for (let day = 0; day < daysKept; day++) counts[day] = (counts[day] ?? 0) + (own[day] ?? 0);
      yield;
    }
    this.#daysOfAll = { newest, counts };
  }

  #countDays(rows: Uint32Array, newest: number): Uint32Array {
    const counts = new Uint32Array(daysKept);
    const heardOn = this.#heardOn();
    const [low, high] = [this.#column('daysLow'), this.#column('daysHigh')];
    const last = this.lastSeconds();
    const isTold = this.#isTold();
    const countTold = (day: number) => {
      const nth = day - newest + daysKept - 1;
      if (nth >= 0 && nth < daysKept) counts[nth] = (counts[nth] ?? 0) + 1;
    };
    // the day of a bit, of the last 64 up to the newest, counted from that one back
    const backOf = Uint8Array.from(
      { length: daysKept },
      (_, bit) => (((newest - bit) % daysKept) + daysKept) % daysKept,
    );
    const countBits = (bits: number, base: number, lastBack: number) => {
      for (let rest = bits; rest !== 0; rest = (rest & (rest - 1)) >>> 0) {
        const back = backOf[base + 31 - Math.clz32(rest & -rest)] ?? 0;
        // what would be after it was heard last is of the days before these
        if (back >= lastBack) counts[daysKept - 1 - back] = (counts[daysKept - 1 - back] ?? 0) + 1;
      }
    };
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] ?? 0;
      if (isTold[row]) {
        heardOn(row, countTold);
        continue;
      }
      const lastBack = newest - Math.floor((last[row] ?? 0) / daySeconds);
      countBits(low[row] ?? 0, 0, lastBack);
      countBits(high[row] ?? 0, 32, lastBack);
    }
    return counts;
  }

  /** By row: 1 where devices tell of it. */
  #isTold(): Uint8Array {
    if (!this.#toldRows) {
      this.#toldRows = new Uint8Array(this.size).fill(1, this.#heard);
      for (const row of this.#told.keys()) this.#toldRows[row] = 1;
    }
    return this.#toldRows;
  }

  /** The day on which anything was heard last, in days since the epoch. */
  lastDay(): number {
    return (this.#lastDay ??= Math.floor(mostOf(this.lastSeconds()) / daySeconds));
  }

  /** Tells each day on which a row was heard, of the last 64 there were; what only surveys saw was heard on the days they saw it first and last. */
  #heardOn(): (row: number, tell: (day: number) => void) => void {
    const [low, high] = [this.#column('daysLow'), this.#column('daysHigh')];
    const [last, ownLast] = [this.lastSeconds(), this.#count('lastSeen')];
    return (row, tell) => {
      const told = this.#told.get(row);
      if (told) {
        const [first, latest] = (['firstSeen', 'lastSeen'] as const).map((field) =>
          Math.floor(this.#secondsAt(field, row) / daySeconds),
        );
        if (row >= this.#heard) {
          if (first !== undefined) tell(first);
          if (latest !== undefined && latest !== first) tell(latest);
          return;
        }
        if (latest !== undefined && latest > Math.floor((ownLast[row] ?? 0) / daySeconds)) tell(latest);
      }
      const until = Math.floor((told ? (ownLast[row] ?? 0) : (last[row] ?? 0)) / daySeconds);
      for (let [rest, base] = [low[row] ?? 0, 0]; base < daysKept; [rest, base] = [high[row] ?? 0, base + 32])
        while (rest !== 0) {
          const bit = 31 - Math.clz32(rest & -rest);
          rest = (rest & (rest - 1)) >>> 0;
          // the newest day up to the last that has this bit
          tell(until - ((((until - base - bit) % daysKept) + daysKept) % daysKept));
        }
    };
  }

  /** `heard.day`: rows that were heard on any of the days that are found. */
  get steps(): NonNullable<ThingTable['steps']> {
    const newest = this.lastDay();
    const size = daysKept;
    const days = Array.from({ length: size }, (_, nth) => moments((newest - size + 1 + nth) * daySeconds * 1000));
    return [
      {
        word: 'heard',
        fields: otherSteps.conversations?.heard ?? [],
        table: { size, column: () => columnOf(days, size) },
        spread: (found) => {
          const fits = new Uint8Array(this.size);
          const heardOn = this.#heardOn();
          for (let row = 0; row < fits.length; row++)
            heardOn(row, (day) => {
              if (found[day - newest + size - 1]) fits[row] = 1;
            });
          return fits;
        },
      },
    ];
  }

  keys(): ArrayLike<number | string> {
    const numbers = this.around.heard.stock.conversations().subarray(0, this.#heard);
    if (this.#extra.length === 0) return numbers;
    const keys = Array.from<number | string>(numbers);
    for (const told of this.#extra) keys.push(conversationOf(this.db, told.id) ?? told.id);
    return keys;
  }

  owners(): Uint32Array {
    return new Uint32Array(this.size);
  }

  rowOf(id: string): number {
    const row = this.#heardRow(id);
    return row >= 0 && row < this.#heard ? row : (this.#extraRows.get(id) ?? -1);
  }

  /** Where what was heard by then is a part of what is heard now. */
  placesIn = (other: ThingTable): Uint32Array | undefined => {
    if (!(other instanceof ConversationsTable)) return undefined;
    const { stock } = other.around.heard;
    if (!(stock instanceof TalkUntil) || stock.stock !== this.around.heard.stock) return undefined;
    const places = new Uint32Array(this.size);
    places.set(stock.places(this.#heard));
    // what only devices told may be heard by now
    for (const [id, row] of other.#extraRows) {
      const own = this.rowOf(id);
      if (own >= 0) places[own] = row + 1;
    }
    for (const [id, row] of this.#extraRows) places[row] = other.rowOf(id) + 1;
    return places;
  };

  /** By client, then by whom it asks. */
  readonly order = ['clientName', 'serverName', 'port', 'clientAddress'];

  rows(wanted: Iterable<number>): ThingRow[] {
    return Array.from(wanted, (row) => this.#row(row));
  }

  /** One row, without making columns of all of them. */
  #row(row: number): ThingRow {
    const { ends, heard, owners } = this.around;
    const told = this.#told.get(row);
    const isHeard = row < this.#heard;
    const port = isHeard ? heard.stock.at('port', row) : (told?.port ?? 0);
    const protocol = isHeard ? protocolName(heard.stock.at('protocol', row)) : (told?.protocol ?? '');
    const endAt = (end: End) => {
      const code = isHeard ? heard.stock.at(end, row) : heard.addresses.codeOf(told?.[end]);
      const deviceId = this.devicesAt(end)[row] ?? 0;
      const site = ends.fieldOf(end, 'Site');
      return {
        address: String(heard.addresses.values[code]),
        deviceId: deviceId === 0 ? null : deviceId,
        device: deviceId === 0 ? '' : owners.nameOf(deviceId),
        site: String(site.dictionary.values[site.codeOf(deviceId, code)]),
        process:
          told?.[`${end}Process`] ||
          (end === 'server' && deviceId > 0 ? this.around.processAt(deviceId, protocol, port) : ''),
      };
    };
    const [client, server] = [endAt('client'), endAt('server')];
    const count = (field: Exclude<Counted, 'bytes'>) => (isHeard ? heard.stock.at(field, row) : null);
    const points = isHeard ? (heard.stock.pointSets[heard.stock.at('points', row)] ?? []) : [];
    const basis = told?.isListener ? byListener : isHeard ? heard.stock.at('basis', row) : 0;
    return {
      id: `${protocol} ${client.address} ${server.address} ${port}`,
      client,
      server: { ...server, port },
      protocol,
      port,
      clientName: client.device || client.address,
      clientDevice: client.device,
      clientProcess: client.process,
      clientAddress: client.address,
      clientSite: client.site,
      serverName: server.device || server.address,
      serverDevice: server.device,
      serverProcess: server.process,
      serverAddress: server.address,
      serverSite: server.site,
      serves: servesWords[basis] ?? '',
      heardBy: heardWords[isHeard ? (told ? 0 : 1) : 2],
      tellers: told?.tellers ?? [],
      sources: [...(told?.tellers ?? []).map(owners.nameOf), ...points],
      samples: told?.samples ?? 0,
      events: count('events'),
      packets: count('packets'),
      bytes: isHeard ? (count('bytesToServer') ?? 0) + (count('bytesToClient') ?? 0) : null,
      bytesToServer: count('bytesToServer'),
      bytesToClient: count('bytesToClient'),
      activeHours: isHeard ? heard.stock.at('activeHours', row) : 0,
      firstSeen: moment(this.#secondsAt('firstSeen', row)),
      lastSeen: moment(this.#secondsAt('lastSeen', row)),
    };
  }

  #make(field: string): Column {
    const { heard } = this.around;
    switch (field) {
      case 'clientAddress':
      case 'serverAddress':
        return { dictionary: heard.addresses, codes: this.#addressCodes(ends[field]) };
      case 'clientName':
      case 'serverName':
        return this.#byEnd(ends[field], 'Name');
      case 'clientDevice':
      case 'serverDevice':
        return this.#byEnd(ends[field], 'Device');
      case 'clientSite':
      case 'serverSite':
        return this.#byEnd(ends[field], 'Site');
      case 'clientNetwork':
      case 'serverNetwork':
        return this.#byEnd(ends[field], 'Network');
      case 'clientId':
      case 'serverId':
        return numberColumn(Float64Array.from(this.devicesAt(ends[field])));
      case 'clientProcess':
        return this.#processes('client');
      case 'serverProcess':
        return this.#processes('server');
      case 'port':
      case 'protocol':
        return this.#asked(field);
      case 'serves':
        return this.#serves();
      case 'heardBy':
        return this.#heardBy();
      case 'sources':
        return this.#sources();
      case 'samples':
        return this.#sparse(0, ({ samples }) => samples);
      case 'events':
      case 'packets':
      case 'bytes':
      case 'bytesToServer':
      case 'bytesToClient':
        return numberColumn(this.#keep(field, () => this.#counts(field)));
      case 'activeHours':
      case 'firstSeen':
      case 'lastSeen':
        return atOnce(this.#growing(field));
      default: {
        if (this.size > this.most) return constantColumn(null, this.size);
        return columnOf(
          this.rows(everyRow(this.size)).map((row) => row[field]),
          this.size,
        );
      }
    }
  }

  #heardRow(id: string): number {
    const number = conversationOf(this.db, id);
    return number === null ? -1 : this.around.heard.stock.rowOf(number);
  }

  #asked(field: 'port' | 'protocol'): Column {
    const { ends } = this.around;
    const { dictionary, codes: own } = ends.asked(field);
    const codes = this.#withTold(own.subarray(0, this.#heard));
    for (const [at, told] of this.#extra.entries())
      codes[this.#heard + at] = ends.askedCode(
        field,
        field === 'port' ? told.port : (protocolNames.get(told.protocol) ?? 0),
      );
    return { dictionary, codes };
  }

  #serves(): Column {
    const dictionary = new Dictionary();
    const ofBasis = servesWords.map((words) => dictionary.codeOf(words));
    return lazyColumn(dictionary, () => {
      const basis = this.#column('basis');
      const codes = new Uint32Array(this.size).fill(ofBasis[0] ?? 0);
      for (let row = 0; row < basis.length; row++) codes[row] = ofBasis[basis[row] ?? 0] ?? 0;
      for (const [row, { isListener }] of this.#told) if (isListener) codes[row] = ofBasis[byListener] ?? 0;
      return codes;
    });
  }

  #counts(field: Counted): Float64Array {
    const counts = new Float64Array(this.size).fill(Number.NaN, this.#heard);
    if (field !== 'bytes') counts.set(this.#count(field));
    else {
      const [there, back] = [this.#count('bytesToServer'), this.#count('bytesToClient')];
      for (let row = 0; row < this.#heard; row++) counts[row] = (there[row] ?? 0) + (back[row] ?? 0);
    }
    return counts;
  }

  #addressCodes(end: End): Uint32Array {
    const { addresses } = this.around.heard;
    if (this.#extra.length === 0) return this.#column(end);
    const codes = new Uint32Array(this.size);
    codes.set(this.#column(end));
    for (const [at, told] of this.#extra.entries()) codes[this.#heard + at] = addresses.codeOf(told[end]);
    return codes;
  }

  /** What was heard, with room behind it for what is only told. */
  #withTold(heard: Uint32Array): Uint32Array {
    if (this.#told.size === 0) return heard;
    const all = new Uint32Array(this.size);
    all.set(heard);
    return all;
  }

  #findDevices(end: End): Uint32Array {
    const devices = this.#withTold(this.around.ends.devices(end).subarray(0, this.#heard));
    for (const [row, told] of this.#told) {
      const own = told[`${end}Device`];
      // whoever tells of it is that end, even where another device has the address too
      if (own > 0) devices[row] = own;
      else if (row >= this.#heard)
        devices[row] = this.around.owners.ownerAt(told[end], this.#secondsAt('lastSeen', row));
    }
    return devices;
  }

  /** What follows from the device that an end is, else from its address. */
  #byEnd(end: End, field: EndFieldName): Column {
    const { ends, heard } = this.around;
    const { dictionary, codes: own } = ends.column(end, field);
    const codes = this.#withTold(own.subarray(0, this.#heard));
    const of = ends.fieldOf(end, field);
    const devices = this.devicesAt(end);
    for (const [row, told] of this.#told) codes[row] = of.codeOf(devices[row] ?? 0, heard.addresses.codeOf(told[end]));
    return { dictionary, codes };
  }

  #processes(end: End): Column {
    if (end === 'client') return this.#sparse('', (told) => told.clientProcess);
    const { ends } = this.around;
    const { dictionary, codes: own } = ends.processes();
    const codes = this.#withTold(own.subarray(0, this.#heard));
    const devices = this.devicesAt('server');
    for (const [row, told] of this.#told) {
      const device = devices[row] ?? 0;
      const protocol = protocolNames.get(told.protocol) ?? 0;
      codes[row] = told.serverProcess
        ? dictionary.codeOf(told.serverProcess)
        : device > 0
          ? ends.processCode(device, protocol, told.port)
          : dictionary.codeOf('');
    }
    return { dictionary, codes };
  }

  /** What only devices tell. */
  #sparse(otherwise: unknown, ofTold: (told: ToldTalk) => unknown): Column {
    const dictionary = new Dictionary();
    const other = dictionary.codeOf(otherwise);
    const own = Array.from(this.#told, ([row, told]) => [row, dictionary.codeOf(ofTold(told))] as const);
    return lazyColumn(dictionary, () => {
      const codes = new Uint32Array(this.size).fill(other);
      for (const [row, code] of own) codes[row] = code;
      return codes;
    });
  }

  #heardBy(): Column {
    const dictionary = new Dictionary();
    const [both, continuous, sampled] = heardWords.map((words) => dictionary.codeOf(words));
    return lazyColumn(dictionary, () => {
      const codes = new Uint32Array(this.size).fill(continuous ?? 0).fill(sampled ?? 0, this.#heard);
      for (const row of this.#told.keys()) if (row < this.#heard) codes[row] = both ?? 0;
      return codes;
    });
  }

  #sources(): Column {
    const { stock } = this.around.heard;
    const dictionary = new Dictionary();
    const sets = stock.pointSets.map((points) => dictionary.codeOf(points));
    const points = this.#column('points');
    const own = Array.from(this.#told, ([row, { tellers }]) => {
      const heardAt = row < this.#heard ? (stock.pointSets[points[row] ?? 0] ?? []) : [];
      return [row, dictionary.codeOf([...tellers.map(this.around.owners.nameOf), ...heardAt])] as const;
    });
    return lazyColumn(dictionary, () => {
      const codes = new Uint32Array(this.size);
      for (let row = 0; row < this.#heard; row++) codes[row] = sets[points[row] ?? 0] ?? 0;
      for (const [row, code] of own) codes[row] = code;
      return codes;
    });
  }

  /** Numbers of which most are those of the table before. */
  *#growing(field: GrowingField): Steps<Column> {
    const numbers = field === 'activeHours' ? this.activeHours() : this.#seconds(field);
    yield;
    const isMoment = field !== 'activeHours';
    if (isMoment && !this.coarse.has(field))
      return numberColumn(
        numbers.map((value) => Math.round(value * 1000)),
        moments,
      );
    const before = this.#before;
    const known = before?.numbers.get(field);
    const numberAt = (row: number) => (isMoment ? Math.floor((numbers[row] ?? 0) / 60) : (numbers[row] ?? 0));
    const column =
      (before && known && grownColumn(known, this.size, before.changed, before.from, numberAt)) ??
      (yield* isMoment ? minutesColumn(numbers) : numberColumnInSteps(numbers));
    this.#numbers.set(field, column);
    return column;
  }

  /** By row: in how many hours anything was heard. */
  activeHours(): Float64Array {
    return this.#keep('activeHours', () => {
      const hours = new Float64Array(this.size);
      hours.set(this.#column('activeHours'));
      return hours;
    });
  }

  #keep(name: string, make: () => Float64Array): Float64Array {
    let known = this.#kept.get(name);
    if (!known) this.#kept.set(name, (known = make()));
    return known;
  }

  #seconds(field: 'firstSeen' | 'lastSeen'): Float64Array {
    return this.#keep(field, () => this.#secondsOf(field));
  }

  #secondsOf(field: 'firstSeen' | 'lastSeen'): Float64Array {
    const seconds = new Float64Array(this.size);
    seconds.set(this.#count(field));
    for (const row of this.#told.keys()) seconds[row] = this.#secondsAt(field, row);
    return seconds;
  }

  #secondsAt(field: 'firstSeen' | 'lastSeen', row: number): number {
    const { momentOf, answeredIn, viewed } = this.around;
    const told = this.#told.get(row);
    const own = row < this.#heard ? this.around.heard.stock.at(field, row) : null;
    if (!told) return own ?? 0;
    const survey = field === 'firstSeen' ? told.firstSurvey : Math.max(...told.tellers.map(answeredIn));
    // of a device whose visits are kept no more, the moment that is viewed
    const then = Date.parse(momentOf(survey) || viewed) / 1000;
    if (own === null) return then;
    if (Number.isNaN(then)) return own;
    return field === 'firstSeen' ? Math.min(own, then) : Math.max(own, then);
  }
}

function mostOf(numbers: Float64Array): number {
  let most = 0;
  for (let at = 0; at < numbers.length; at++) if ((numbers[at] ?? 0) > most) most = numbers[at] ?? 0;
  return most;
}

const ends: Record<string, End> & Record<`${End}${'Address' | 'Id' | EndFieldName}`, End> = {
  clientNetwork: 'client',
  serverNetwork: 'server',
  clientAddress: 'client',
  clientName: 'client',
  clientDevice: 'client',
  clientSite: 'client',
  clientId: 'client',
  serverAddress: 'server',
  serverName: 'server',
  serverDevice: 'server',
  serverSite: 'server',
  serverId: 'server',
};

const moments = (milliseconds: number): string => new Date(milliseconds).toISOString();
const moment = (seconds: number): string => moments(Math.round(seconds * 1000));

/** Moments to the minute: there are far fewer of them than rows. */
function* minutesColumn(seconds: Float64Array): Steps<NumberColumn> {
  let first = Infinity;
  for (let row = 0; row < seconds.length; row++) if ((seconds[row] ?? 0) < first) first = seconds[row] ?? 0;
  const base = Math.floor(first / 60);
  const minutes = new Float64Array(seconds.length);
  for (let row = 0; row < minutes.length; row++) minutes[row] = Math.floor((seconds[row] ?? 0) / 60) - base;
  yield;
  const column = yield* numberColumnInSteps(minutes, (minute) => moments((minute + base) * 60_000));
  return {
    ...column,
    distinct: column.distinct.map((minute) => minute + base),
    shown: (minute) => moments(minute * 60_000),
  };
}

function conversationOf(db: Db, id: string): number | null {
  const known = endsOfConversation(id);
  return known && conversationNumber(db, known);
}
