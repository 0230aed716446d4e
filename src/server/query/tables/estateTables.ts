import type { CoverIndex } from '../../../core/cover/cover';
import { searchedAnywhere } from '../../../core/filter/predicate';
import { parseFilter } from '../../../core/filter/syntax';
import { columnsOfRows, everyRow, type Column } from '../../../core/tables/column';
import { selectRows } from '../../../core/tables/select';
import { sitedThings, things, type ThingName } from '../../../core/things/things';
import type { ThingField } from '../../../core/things/thing';
import type { Db, Store } from '../../../store/base/database';
import { endpointsByDevice } from '../../../store/base/attachmentCounts';
import type { KeptGroup } from '../../../store/groups';
import { latestSealed } from '../../../store/base/sealedSurveys';
import { siteStamp } from '../../../store/sites';
import { editStamp } from '../../../store/edits/log';
import { decisionStamp } from '../../../store/identityDecisions';
import type { SerialVersion, ThingRow } from '../rows/rowBuilder';
import { builders } from '../rows/rows';
import { makerLookup } from '../rows/makerOf';
import { AddedFields } from '../columns/addedFields';
import { contractRows } from './contractsTable';
import { EndpointsTable, endpointVersions, Makers } from './endpointsTable';
import { EnrichedTable } from './enrichedTable';
import { Finder } from '../finder';
import { Cache } from '../cache';
import { MarkedTable } from './markedTable';
import { ModulesTable, moduleVersions } from './modulesTable';
import { PortParts } from './portParts';
import { PortsTable, portVersions } from './portsTable';
import { relationsOf } from '../relations';
import { SurveyContext } from './surveyContext';
import { RowsTable, type ThingTable } from './thingTable';

/** Things that have no rows of another moment to be held against. */
const unmarked = new Set<ThingName>(['changes', 'visits']);
/** Things in which targets and the catalogue take part: they are good only until something is written. */
const followSettings = new Set<ThingName>(['readiness']);

/** Things that are read device by device where only one is asked for. */
const partsOfDevices = new Set<Exclude<ThingName, 'ports' | 'endpoints' | 'contracts'>>([
  'modules',
  'addresses',
  'readiness',
  'faults',
  'services',
  'software',
  'peers',
  'wlans',
]);

/** Columns that are worked out over all rows of a thing. */
const costly: Partial<Record<ThingName, readonly string[]>> = {
  endpoints: ['firstSeen'],
  ports: ['lastChangeSeconds', 'watts', 'lastSeen', 'stateChanges', 'newNeighbour'],
  links: ['cutsDevices', 'spareLostBy'],
  devices: ['pluggedInto', 'cutsDevices'],
  modules: ['holds'],
};

/** The tables of an estate, at any of its moments. Sealed surveys do not change: what was made of one is kept for the next question. */
export class EstateTables {
  /** what people ask for all day stays, whatever else is looked at */
  readonly #ofNewest = (key: string) => key.split(' ').at(1) === String(this.#newest);
  readonly #tables = new Cache<ThingTable>(40, this.#ofNewest);
  readonly #large = new Cache<ThingTable>(4, this.#ofNewest);
  readonly #marked = new Cache<MarkedTable>(4);
  readonly #contexts = new Cache<SurveyContext>(3, (survey) => survey === String(this.#newest));
  readonly #finders = new Cache<Finder>(1, (survey) => survey === String(this.#newest));
  #ports: ReturnType<typeof portVersions>;
  #endpoints: ReturnType<typeof endpointVersions>;
  #modules: ReturnType<typeof moduleVersions>;
  #loadedTo = 0;
  #askedTo = 0;
  #unfinished: { upTo: number; steps: Generator<void> } | null = null;
  #stamp = '';
  #settings = '';
  #surveys: { id: number; stamp: string }[] = [];
  #newest = 0;
  #makers: Makers;
  #parts: PortParts;
  #decided = '';
  #contracts = 0;
  readonly #enriched = new Cache<EnrichedTable>(24, this.#ofNewest);
  /** fields over those of the rows themselves */
  readonly #added: AddedFields;

  constructor(
    readonly store: Pick<Store, 'db' | 'folder' | 'raw'>,
    now: () => Date = () => new Date(),
  ) {
    this.#ports = portVersions(store.db);
    this.#endpoints = endpointVersions(store.db);
    this.#modules = moduleVersions(store.db);
    this.#makers = this.#newMakers();
    this.#parts = new PortParts(store.db);
    this.#added = new AddedFields(
      store.db,
      now,
      (name, survey) => this.#plain(name, survey, null),
      (survey) => this.#hanging(survey),
    );
  }

  get #db(): Db {
    return this.store.db;
  }

  /** A thing as of a survey; where it can be, marked by what differs from another. */
  table(name: ThingName, survey: number, against: number | null): ThingTable {
    this.#notice();
    // contracts are there before any survey
    if (survey === 0 && name !== 'contracts') return new RowsTable([]);
    this.#askedTo = Math.max(this.#askedTo, survey, against ?? 0);
    if (unmarked.has(name)) return this.#plain(name, survey, against);
    const now = this.#withMore(name, survey);
    if (against === null) return now;
    const then = this.#withMore(name, against);
    const known = this.#marked.get(
      `${name} ${survey} ${against}${this.#untilWritten(name)}`,
      () => new MarkedTable(now, then, things[name]),
    );
    if (known.isOf(now, then)) return known;
    this.#marked.clear();
    return this.table(name, survey, against);
  }

  /** All fields of a thing, those of one's own too. */
  fields(name: ThingName): ThingField[] {
    this.#notice();
    return this.#added.fieldsOf(name);
  }

  /** How many members a group has at a survey, and what is wrong with it where its filter cannot be read any more. */
  membersTold(group: KeptGroup, survey: number): { rows: number; mistake: string | null } {
    this.#notice();
    return this.#added.membersTold(group, survey);
  }

  /** Who covers which serial on the day of a survey. */
  coverAt(survey: number): CoverIndex {
    this.#notice();
    return this.#added.coverAt(survey);
  }

  /** By row of a table: whether a filter holds it. @throws FilterError */
  select(
    name: ThingName,
    survey: number,
    table: ThingTable,
    where: string,
    extra: { table: { size: number; column: (field: string) => Column }; fields: { name: string; kind: 'text' }[] } = {
      table,
      fields: [],
    },
  ): Uint8Array {
    return selectRows(parseFilter(where), {
      table: extra.table,
      fields: [...this.fields(name), ...extra.fields],
      related: relationsOf(name, table, (other) => this.table(other, survey, null), this.#added.fieldsOf),
    });
  }

  /** A table with what follows from devices, and what people say. */
  #withMore(name: ThingName, survey: number): ThingTable {
    const plain = this.#plain(name, survey, null);
    const more = this.#added.of(name, survey);
    if (more.size === 0) return plain;
    const known = this.#enriched.get(`${name} ${survey}`, () => new EnrichedTable(plain, more));
    // what it is made of was given up and made anew
    if (known.base === plain) return known;
    this.#enriched.clear();
    return this.#withMore(name, survey);
  }

  /** How many endpoints hang on each device at a survey. */
  endpointsByDevice(survey: number): ReadonlyMap<number, number> {
    this.#notice();
    return this.#hanging(survey);
  }

  /** Counted in memory where they lie there already, else in the file: to read all of them for their number alone would take longer. */
  #hanging(survey: number): ReadonlyMap<number, number> {
    if (this.#loadedTo < survey) return endpointsByDevice(this.#db, survey);
    const counts = new Map<number, number>();
    for (const owner of this.#plain('endpoints', survey, null).owners())
      if (owner > 0) counts.set(owner, (counts.get(owner) ?? 0) + 1);
    return counts;
  }

  /** Every place an endpoint was found at up to a survey, oldest first. */
  endpointVersions(mac: string, survey: number): ReturnType<ReturnType<typeof endpointVersions>['versionsWith']> {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    this.#load(survey);
    return this.#endpoints.versionsWith('mac', mac);
  }

  /** MACs that had an address up to a survey, the latest to have it first. */
  macsWithAddress(survey: number, address: string): string[] {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    this.#load(survey);
    return this.#endpoints.valuesBeside('mac', 'addresses', address, survey).map(String);
  }

  /** What belongs to one device of a thing, without reading the rest where that can be. */
  ofDevice(name: ThingName, survey: number, deviceId: number): ThingRow[] {
    if (name === 'ports' || name === 'endpoints' || name === 'contracts' || !partsOfDevices.has(name)) {
      const table = this.table(name, survey, null);
      const owners = table.owners();
      return table.rows(everyRow(table.size).filter((row) => owners[row] === deviceId));
    }
    if (survey === 0) return [];
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    const rows = builders[name]({ db: this.#db, survey, against: null, devices: [deviceId] }, (other) =>
      this.#plain(other, survey, null),
    ).filter((row) => Number(row.deviceId) === deviceId);
    const sited =
      sitedThings.has(name) && rows.length > 0
        ? rows.map((row) => ({ ...row, site: this.#added.siteOf(survey)(deviceId) }))
        : rows;
    return name === 'modules' ? this.#added.withCover(sited, survey) : sited;
  }

  /** Reads ahead what is asked for most, a step at a time, so that questions that come meanwhile are answered between two steps. */
  *readAhead(survey: number): Generator<void> {
    if (survey === 0) return;
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    yield* this.#loading(survey);
    for (const name of ['devices', 'endpoints', 'ports', 'modules'] as const) {
      yield;
      const table = this.#plain(name, survey, null);
      if (table instanceof PortsTable) yield* table.plugging();
      // a word is looked for in all of them
      for (const field of things[name].fields.filter((own) => searchedAnywhere(own) && !this.#added.has(own.name))) {
        yield;
        table.column(field.name).dictionary.containing('0');
      }
    }
    // what takes long to work out, one at a step; the rest is made with the first row
    for (const [name, fields] of Object.entries(costly) as [ThingName, readonly string[]][]) {
      const table = this.table(name, survey, null);
      for (const field of fields) {
        yield;
        table.column(field);
      }
      yield;
      table.rows([0]);
    }
    const finder = new Finder();
    yield* finder.build((thing) => this.#plain(thing, survey, null));
    finder.find('0', 1);
    this.#finders.get(String(survey), () => finder);
  }

  /** Who finds anything at a survey. */
  finder(survey: number): Finder {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    return this.#finders.get(String(survey), () => {
      const finder = new Finder();
      for (const _ of finder.build((thing) => this.#plain(thing, survey, null)));
      return finder;
    });
  }

  #plain(name: ThingName, survey: number, against: number | null): ThingTable {
    switch (name) {
      case 'ports':
        this.#load(survey);
        return this.#large.get(
          `ports ${survey}`,
          () =>
            new PortsTable(
              this.#ports,
              this.#context(survey),
              () => this.#plain('endpoints', survey, null) as EndpointsTable,
            ),
        );
      case 'endpoints':
        this.#load(survey);
        return this.#large.get(
          `endpoints ${survey}`,
          () => new EndpointsTable(this.#endpoints, this.#context(survey), this.#makers),
        );
      case 'modules':
        this.#load(survey);
        return this.#tables.get(`modules ${survey} `, () => new ModulesTable(this.#modules, this.#context(survey)));
      case 'contracts':
        return this.#tables.get(
          `contracts ${survey} ${this.#added.contractsAt(survey)}`,
          () =>
            new RowsTable(
              contractRows(
                this.#added.contracts(),
                this.#added.coverAt(survey),
                survey === 0
                  ? []
                  : [
                      { table: this.#plain('modules', survey, null), device: 'device' },
                      { table: this.#plain('devices', survey, null), device: 'name' },
                    ],
              ),
            ),
        );
      default:
        return this.#tables.get(
          `${name} ${survey} ${name === 'changes' ? against : ''}${this.#untilWritten(name)}`,
          () =>
            new RowsTable(
              builders[name](
                { db: this.#db, survey, against, ...(name === 'ledger' && { serials: () => this.#serials(survey) }) },
                (other) => (other === name ? columnsOfRows([]) : this.#plain(other, survey, against)),
              ),
            ),
        );
    }
  }

  #serials(survey: number): Iterable<SerialVersion> {
    this.#load(survey);
    return this.#modules.history(['serial', 'description', 'name', 'model', 'class', 'path']);
  }

  #untilWritten(name: ThingName): string {
    return followSettings.has(name) ? ` ${this.#stamp}` : '';
  }

  #context(survey: number): SurveyContext {
    return this.#contexts.get(String(survey), () => new SurveyContext(this.#db, survey, this.#parts));
  }

  #newMakers(): Makers {
    return new Makers(this.#endpoints.column('mac').dictionary, makerLookup(this.#db));
  }

  /** Has the versions up to a survey there, whoever began to read them. */
  #load(survey: number): void {
    for (const _ of this.#loading(survey));
  }

  *#loading(survey: number): Generator<void> {
    while (this.#loadedTo < survey) {
      this.#unfinished ??= { upTo: survey, steps: this.#steps(survey) };
      const { upTo, steps } = this.#unfinished;
      if (steps.next().done) {
        this.#unfinished = null;
        this.#loadedTo = Math.max(this.#loadedTo, upTo);
      }
      yield;
    }
  }

  *#steps(survey: number): Generator<void> {
    yield* this.#ports.continueTo(survey);
    yield* this.#endpoints.continueTo(survey);
    yield* this.#modules.continueTo(survey);
  }

  /** Looks whether anything was written since the last question, and gives up what is no longer so. */
  #notice(): void {
    const { raw } = this.store;
    if (this.#added.timePassed()) this.#enriched.clear();
    const stamp = `${String(raw.pragma('data_version', { simple: true }))} ${String((raw.prepare('select total_changes() as made').get() as { made: number }).made)}`;
    if (stamp === this.#stamp) return;
    this.#stamp = stamp;
    if (this.#added.readAgain()) this.#enriched.clear();
    const decided = `${decisionStamp(this.#db)} ${siteStamp(this.#db)}`;
    if (decided !== this.#decided) {
      // who is who, or where it stands, has changed for all surveys
      this.#decided = decided;
      this.#forget();
    }
    const surveys = raw
      .prepare<[], { id: number; stamp: string }>(
        "select id, id || ' ' || state || ' ' || coalesce(sealed_at, '') as stamp from survey order by id",
      )
      .all();
    // a survey that was sealed after a later one, or to which something was delivered late, makes what is known of all later ones untrue
    if (this.#surveys.some((before, at) => before.id <= this.#askedTo && surveys[at]?.stamp !== before.stamp))
      this.#forget();
    this.#surveys = surveys;
    this.#newest = latestSealed(this.#db);
    const contracts = editStamp(this.#db, 'contracts');
    // they are found by their numbers
    if (contracts !== this.#contracts) this.#finders.clear();
    this.#contracts = contracts;
    const settings = JSON.stringify(raw.prepare('select prefix, name from maker order by prefix').all());
    if (settings !== this.#settings) {
      this.#settings = settings;
      this.#makers = this.#newMakers();
      this.#large.clear();
      this.#marked.clear();
      this.#finders.clear();
    }
  }

  #forget(): void {
    this.#ports = portVersions(this.#db);
    this.#endpoints = endpointVersions(this.#db);
    this.#modules = moduleVersions(this.#db);
    this.#makers = this.#newMakers();
    this.#parts = new PortParts(this.#db);
    this.#unfinished = null;
    this.#loadedTo = this.#askedTo = 0;
    for (const kept of [this.#tables, this.#large, this.#marked, this.#contexts, this.#finders, this.#enriched])
      kept.clear();
    this.#added.forget();
  }
}

const byStore = new WeakMap<object, EstateTables>();

/** The tables of an open data folder. */
export function tablesOf(store: Store): EstateTables {
  let tables = byStore.get(store.raw);
  if (!tables) byStore.set(store.raw, (tables = new EstateTables(store)));
  return tables;
}
