import { endsOfConversation, protocolName } from '../../../core/flow/talk';
import { columnOf, constantColumn, everyRow, valueAt, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import { numberColumn } from '../../../core/tables/numberColumn';
import { orderRows } from '../../../core/tables/order';
import type { Db } from '../../../store/base/database';
import { conversationNumber } from '../../../store/talk/conversations';
import type { AddressOwners } from '../talk/addressOwners';
import { bases, type HeardTalk } from '../talk/heardTalk';
import type { ToldTalk } from '../talk/toldTalk';
import type { ThingRow } from '../rows/thingRow';
import type { ThingTable } from './thingTable';

/** What a table of conversations follows from. */
export interface TalkAround {
  heard: HeardTalk;
  told: ReadonlyMap<string, ToldTalk>;
  owners: AddressOwners;
  /** where a device stands */
  siteOf: (deviceId: number) => string;
  /** at which device an address hangs that is none of a device; 0 where that is not known */
  hangsOn: (address: string) => number;
  /** which process listens on a port of a device */
  processAt: (deviceId: number, protocol: string, port: number) => string;
  /** when a survey was, and when a device answered last */
  momentOf: (survey: number) => string;
  answeredIn: (deviceId: number) => number;
}

/** Up to so many rows moments stand in columns as they are; beyond that, to the minute. */
const mostExact = 200_000;

/** By which number of `bases` a conversation that devices tell of serves. */
const byListener = bases.indexOf('listener');
const servesWords = ['the numbers of the ports', 'who opened it', 'its listener'];
const protocolNames = new Map<string, number>(
  Array.from({ length: 256 }, (_, protocol) => [protocolName(protocol), protocol] as const),
);

type End = 'client' | 'server';

/** Who talks to whom: rows of what captures heard, then of what only devices tell. What both know of is one row. */
export class ConversationsTable implements ThingTable {
  readonly size: number;
  /** where moments stand to the minute in columns: rows tell them as they are */
  readonly coarse: ReadonlySet<string>;
  readonly #heard: number;
  readonly #told = new Map<number, ToldTalk>();
  readonly #extra: ToldTalk[] = [];
  readonly #columns = new Map<string, Column>();
  readonly #devices = new Map<End, Uint32Array>();
  readonly #kept = new Map<string, Float64Array>();

  constructor(
    readonly db: Db,
    readonly around: TalkAround,
  ) {
    const { stock } = around.heard;
    this.#heard = stock.size;
    for (const told of around.told.values()) {
      const row = this.#heardRow(told.id);
      if (row >= 0) this.#told.set(row, told);
      else {
        this.#told.set(this.#heard + this.#extra.length, told);
        this.#extra.push(told);
      }
    }
    this.size = this.#heard + this.#extra.length;
    this.coarse = new Set(this.size > mostExact ? ['firstSeen', 'lastSeen'] : []);
  }

  column = (field: string): Column => {
    let column = this.#columns.get(field);
    if (!column) this.#columns.set(field, (column = this.#make(field)));
    return column;
  };

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
    const events = this.around.heard.stock.count('events');
    for (let row = 0; row < this.#heard; row++) weights[row] = Math.max(1, events[row] ?? 0);
    for (const [row, { samples }] of this.#told) weights[row] = Math.max(weights[row] ?? 0, samples);
    return weights;
  }

  /** By row: octets that were heard, both ways. */
  octets(): Float64Array {
    return this.#counts('bytes').map((count) => (Number.isNaN(count) ? 0 : count));
  }

  /** By row: when it was heard or told first, in seconds since the epoch. */
  firstSeconds(): Float64Array {
    return this.#seconds('firstSeen');
  }

  /** By row: when it was heard or told last, in seconds since the epoch. */
  lastSeconds(): Float64Array {
    return this.#seconds('lastSeen');
  }

  keys(): (number | string)[] {
    const numbers = this.around.heard.stock.conversations();
    return [...numbers, ...this.#extra.map((told) => conversationOf(this.db, told.id) ?? told.id)];
  }

  owners(): Uint32Array {
    return new Uint32Array(this.size);
  }

  rowOf(id: string): number {
    const row = this.#heardRow(id);
    if (row >= 0) return row;
    const extra = this.#extra.findIndex((told) => told.id === id);
    return extra < 0 ? -1 : this.#heard + extra;
  }

  /** Rows as they are read: by client, then by whom it asks. */
  inOrder(rows: Uint32Array): Uint32Array {
    return orderRows(rows, [
      { column: this.column('clientName'), kind: 'text', descending: false },
      { column: this.column('serverName'), kind: 'text', descending: false },
      { column: this.column('port'), kind: 'number', descending: false },
      { column: this.column('clientAddress'), kind: 'address', descending: false },
    ]);
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    return Array.from(wanted, (row) => this.#row(row));
  }

  #row(row: number): ThingRow {
    const { stock } = this.around.heard;
    const of = (field: string) => valueAt(this.column(field), row);
    const told = this.#told.get(row);
    const isHeard = row < this.#heard;
    const [client, server] = (['client', 'server'] as const).map((end) => {
      const deviceId = this.devicesAt(end)[row] ?? 0;
      return {
        address: String(of(`${end}Address`)),
        deviceId: deviceId === 0 ? null : deviceId,
        device: deviceId === 0 ? '' : this.around.owners.nameOf(deviceId),
        site: String(of(`${end}Site`)),
        process: String(of(`${end}Process`)),
      };
    });
    const protocol = String(of('protocol'));
    const port = Number(of('port'));
    const count = (field: 'events' | 'packets' | 'bytesToServer' | 'bytesToClient') =>
      isHeard ? (stock.count(field)[row] ?? 0) : null;
    return {
      id: `${protocol} ${client?.address} ${server?.address} ${port}`,
      client,
      server: { ...server, port },
      protocol,
      port,
      clientName: client?.device || client?.address,
      clientDevice: client?.device,
      clientProcess: client?.process,
      clientAddress: client?.address,
      clientSite: client?.site,
      serverName: server?.device || server?.address,
      serverDevice: server?.device,
      serverProcess: server?.process,
      serverAddress: server?.address,
      serverSite: server?.site,
      serves: of('serves'),
      heardBy: of('heardBy'),
      tellers: told?.tellers ?? [],
      sources: of('sources'),
      samples: told?.samples ?? 0,
      events: count('events'),
      packets: count('packets'),
      bytes: isHeard ? (count('bytesToServer') ?? 0) + (count('bytesToClient') ?? 0) : null,
      bytesToServer: count('bytesToServer'),
      bytesToClient: count('bytesToClient'),
      activeHours: isHeard ? (stock.column('activeHours')[row] ?? 0) : 0,
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
        return this.#byEnd(ends[field], this.around.owners.nameOf, (address) => address);
      case 'clientDevice':
      case 'serverDevice':
        return this.#byEnd(ends[field], this.around.owners.nameOf, () => '');
      case 'clientSite':
      case 'serverSite':
        return this.#byEnd(ends[field], this.around.siteOf, (address) =>
          this.around.siteOf(this.around.hangsOn(address)),
        );
      case 'clientId':
      case 'serverId':
        return numberColumn(Float64Array.from(this.devicesAt(ends[field])));
      case 'clientProcess':
        return this.#processes('client');
      case 'serverProcess':
        return this.#processes('server');
      case 'port':
        return numberColumn(this.#numbers('port', ({ port }) => port));
      case 'protocol': {
        const { dictionary, codes } = numberColumn(
          this.#numbers('protocol', ({ protocol }) => protocolNames.get(protocol) ?? 0),
        );
        return renamed(dictionary, codes, (value) => protocolName(Number(value)));
      }
      case 'serves': {
        const bases = this.#numbers('basis', ({ isListener }) => (isListener ? byListener : 0));
        for (const [row, { isListener }] of this.#told) if (isListener) bases[row] = byListener;
        const { dictionary, codes } = numberColumn(bases);
        return renamed(dictionary, codes, (value) => servesWords[Number(value)] ?? '');
      }
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
        return numberColumn(this.#counts(field));
      case 'activeHours':
        return numberColumn(this.activeHours());
      case 'firstSeen':
      case 'lastSeen':
        return this.#moments(field);
      default: {
        if (this.size > mostExact) return constantColumn(null, this.size);
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

  #numbers(field: 'port' | 'protocol' | 'basis' | 'activeHours', ofTold: (told: ToldTalk) => number): Float64Array {
    const numbers = new Float64Array(this.size);
    numbers.set(this.around.heard.stock.column(field));
    for (const [at, told] of this.#extra.entries()) numbers[this.#heard + at] = ofTold(told);
    return numbers;
  }

  #counts(field: 'events' | 'packets' | 'bytes' | 'bytesToServer' | 'bytesToClient'): Float64Array {
    const { stock } = this.around.heard;
    const counts = new Float64Array(this.size).fill(Number.NaN, this.#heard);
    if (field !== 'bytes') counts.set(stock.count(field));
    else {
      const [there, back] = [stock.count('bytesToServer'), stock.count('bytesToClient')];
      for (let row = 0; row < this.#heard; row++) counts[row] = (there[row] ?? 0) + (back[row] ?? 0);
    }
    return counts;
  }

  #addressCodes(end: End): Uint32Array {
    const { stock, addresses } = this.around.heard;
    if (this.#extra.length === 0) return stock.column(end);
    const codes = new Uint32Array(this.size);
    codes.set(stock.column(end));
    for (const [at, told] of this.#extra.entries()) codes[this.#heard + at] = addresses.codeOf(told[end]);
    return codes;
  }

  #findDevices(end: End): Uint32Array {
    const { owners } = this.around;
    const { dictionary, codes } = this.column(`${end}Address`);
    const changing = 0xffff_ffff;
    const owner = new Uint32Array(dictionary.size);
    for (let code = 0; code < owner.length; code++)
      owner[code] = owners.onlyOwner(String(dictionary.values[code])) ?? changing;
    const devices = new Uint32Array(this.size);
    for (let row = 0; row < devices.length; row++) {
      const code = codes[row] ?? 0;
      const own = owner[code] ?? 0;
      devices[row] =
        own === changing ? owners.ownerAt(String(dictionary.values[code]), this.#secondsAt('lastSeen', row)) : own;
    }
    for (const [row, told] of this.#told) devices[row] = told[`${end}Device`] || (devices[row] ?? 0);
    return devices;
  }

  /** What follows from the device that an end is, else from its address. */
  #byEnd(end: End, ofDevice: (deviceId: number) => string, ofAddress: (address: string) => string): Column {
    const { dictionary: addresses, codes } = this.column(`${end}Address`);
    const devices = this.devicesAt(end);
    const dictionary = new Dictionary();
    const byDevice = new Map<number, number>();
    const byAddress = new Int32Array(addresses.size).fill(-1);
    const made = new Uint32Array(this.size);
    for (let row = 0; row < made.length; row++) {
      const device = devices[row] ?? 0;
      if (device === 0) {
        const code = codes[row] ?? 0;
        if (byAddress[code] === -1) byAddress[code] = dictionary.codeOf(ofAddress(String(addresses.values[code])));
        made[row] = byAddress[code] ?? 0;
        continue;
      }
      let code = byDevice.get(device);
      if (code === undefined) byDevice.set(device, (code = dictionary.codeOf(ofDevice(device))));
      made[row] = code;
    }
    return { dictionary, codes: made };
  }

  #processes(end: End): Column {
    const column = this.#sparse('', (told) => told[`${end}Process`]);
    if (end === 'client') return column;
    const devices = this.devicesAt('server');
    const [ports, protocols] = [this.column('port'), this.column('protocol')];
    const known = new Map<number, number>();
    const width = ports.dictionary.size * protocols.dictionary.size;
    const nothing = column.dictionary.codeOf('');
    for (let row = 0; row < this.size; row++) {
      const device = devices[row] ?? 0;
      if (device === 0 || column.codes[row] !== nothing) continue;
      const [port = 0, protocol = 0] = [ports.codes[row], protocols.codes[row]];
      const key = device * width + port * protocols.dictionary.size + protocol;
      let code = known.get(key);
      if (code === undefined) {
        const process = this.around.processAt(
          device,
          String(protocols.dictionary.values[protocol]),
          Number(ports.dictionary.values[port]),
        );
        known.set(key, (code = column.dictionary.codeOf(process)));
      }
      column.codes[row] = code;
    }
    return column;
  }

  /** What only devices tell. */
  #sparse(otherwise: unknown, ofTold: (told: ToldTalk) => unknown): Column {
    const dictionary = new Dictionary();
    const codes = new Uint32Array(this.size).fill(dictionary.codeOf(otherwise));
    for (const [row, told] of this.#told) codes[row] = dictionary.codeOf(ofTold(told));
    return { dictionary, codes };
  }

  #heardBy(): Column {
    const dictionary = new Dictionary();
    const [both, continuous, sampled] = ['both', 'listening all the while', 'looking at surveys'].map((words) =>
      dictionary.codeOf(words),
    );
    const codes = new Uint32Array(this.size).fill(continuous ?? 0).fill(sampled ?? 0, this.#heard);
    for (const row of this.#told.keys()) if (row < this.#heard) codes[row] = both ?? 0;
    return { dictionary, codes };
  }

  #sources(): Column {
    const { stock } = this.around.heard;
    const dictionary = new Dictionary();
    const sets = stock.pointSets.map((points) => dictionary.codeOf(points));
    const codes = new Uint32Array(this.size);
    const points = stock.column('points');
    for (let row = 0; row < this.#heard; row++) codes[row] = sets[points[row] ?? 0] ?? 0;
    for (const [row, { tellers }] of this.#told) {
      const heardAt = row < this.#heard ? (stock.pointSets[points[row] ?? 0] ?? []) : [];
      codes[row] = dictionary.codeOf([...tellers.map(this.around.owners.nameOf), ...heardAt]);
    }
    return { dictionary, codes };
  }

  #moments(field: 'firstSeen' | 'lastSeen'): Column {
    const seconds = this.#seconds(field);
    if (!this.coarse.has(field))
      return numberColumn(
        seconds.map((value) => Math.round(value * 1000)),
        moments,
      );
    let first = Infinity;
    for (const value of seconds) if (value < first) first = value;
    const base = Math.floor(first / 60);
    return numberColumn(
      seconds.map((value) => Math.floor(value / 60) - base),
      (minutes) => moments((minutes + base) * 60_000),
    );
  }

  /** By row: in how many hours anything was heard. */
  activeHours(): Float64Array {
    return this.#keep('activeHours', () => this.#numbers('activeHours', () => 0));
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
    seconds.set(this.around.heard.stock.count(field));
    for (const row of this.#told.keys()) seconds[row] = this.#secondsAt(field, row);
    return seconds;
  }

  #secondsAt(field: 'firstSeen' | 'lastSeen', row: number): number {
    const { heard, momentOf, answeredIn } = this.around;
    const told = this.#told.get(row);
    const own = row < this.#heard ? (heard.stock.count(field)[row] ?? 0) : null;
    if (!told) return own ?? 0;
    const survey = field === 'firstSeen' ? told.firstSurvey : Math.max(...told.tellers.map(answeredIn));
    const then = Date.parse(momentOf(survey)) / 1000;
    if (own === null) return then;
    if (Number.isNaN(then)) return own;
    return field === 'firstSeen' ? Math.min(own, then) : Math.max(own, then);
  }
}

const ends: Record<string, End> & Record<`${End}${'Address' | 'Name' | 'Device' | 'Site' | 'Id'}`, End> = {
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

function renamed(dictionary: Dictionary, codes: Uint32Array, words: (value: unknown) => string): Column {
  const made = new Dictionary();
  const code = dictionary.values.map((value) => made.codeOf(words(value)));
  return { dictionary: made, codes: codes.map((own) => code[own] ?? 0) };
}

function conversationOf(db: Db, id: string): number | null {
  const known = endsOfConversation(id);
  return known && conversationNumber(db, known);
}
