import type { CoverIndex } from '../../../core/cover/cover';
import type { Circles } from '../../../core/dependency/circles';
import { parseFilter } from '../../../core/filter/syntax';
import { atOnce, type Steps } from '../../../core/steps';
import { columnsOfRows, everyRow, type ColumnSource } from '../../../core/tables/column';
import { selectRows } from '../../../core/tables/select';
import { sitedThings, things, type ThingName } from '../../../core/things/things';
import type { ThingField } from '../../../core/things/thing';
import type { Db, Store } from '../../../store/base/database';
import { endpointsByDevice } from '../../../store/base/attachmentCounts';
import { editStamp } from '../../../store/edits/log';
import type { KeptGroup } from '../../../store/groups';
import type { Asked, SerialVersion, ThingRow } from '../rows/rowBuilder';
import { circleSteps } from '../rows/circleRows';
import { componentsAt, type PlacedComponent } from '../rows/componentLines';
import { builders } from '../rows/rows';
import { makerLookup } from '../rows/makerOf';
import { AddedFields } from '../columns/addedFields';
import { contractRows } from './contractsTable';
import type { ConversationsTable } from './conversationsTable';
import { EndpointsTable, Makers, type endpointVersions } from './endpointsTable';
import { EnrichedTable } from './enrichedTable';
import { Finder } from '../finder';
import { Cache } from '../cache';
import { MarkedTable } from './markedTable';
import { ModulesTable } from './modulesTable';
import { PortParts } from './portParts';
import { PortsTable } from './portsTable';
import { LoadedVersions } from './loadedVersions';
import { readAhead } from './readAhead';
import { relationsOf } from '../relations';
import { StoreWatch } from './storeWatch';
import { SurveyContext } from './surveyContext';
import { slowTalkStamp } from '../talk/slowStamp';
import { TalkTables } from '../talk/talkTables';
import { RowsTable, type ThingTable } from './thingTable';

/** Things that have no rows of another moment to be held against. */
const unmarked = new Set<ThingName>(['changes', 'visits']);
/** Things that are there before any survey: contracts, and what captures and exporters tell. */
const beforeSurveys = new Set<ThingName>(['contracts', 'conversations', 'releases', 'images', 'advisories']);
/** Things in which targets and the catalogue take part: they are good only until something is written. */
const followSettings = new Set<ThingName>([
  'readiness',
  'services',
  'components',
  'releases',
  'images',
  'advisories',
  'exposures',
]);

/** Things that are read device by device where only one is asked for. */
const partsOfDevices = new Set<Exclude<ThingName, 'ports' | 'endpoints' | 'contracts' | 'conversations'>>([
  'modules',
  'addresses',
  'readiness',
  'faults',
  'services',
  'software',
  'peers',
  'wlans',
]);

/** The tables of an estate, at any of its moments. Sealed surveys do not change: what was made of one is kept for the next question. */
export class EstateTables {
  /** what people ask for all day stays, whatever else is looked at */
  readonly #ofNewest = (key: string) => key.split(' ').at(1) === String(this.#watch.newest);
  readonly #tables = new Cache<ThingTable>(40, this.#ofNewest);
  readonly #large = new Cache<ThingTable>(4, this.#ofNewest);
  readonly #marked = new Cache<MarkedTable>(4);
  readonly #contexts = new Cache<SurveyContext>(3, (survey) => survey === String(this.#watch.newest));
  readonly #told = new Cache<unknown>(8, this.#ofNewest);
  readonly #finders = new Cache<Finder>(1, (survey) => survey === String(this.#watch.newest));
  #versions: LoadedVersions;
  readonly #watch: StoreWatch;
  #askedTo = 0;
  #makers: Makers;
  #parts: PortParts;
  readonly #enriched = new Cache<EnrichedTable>(24, this.#ofNewest);
  /** fields over those of the rows themselves */
  readonly #added: AddedFields;
  readonly #talks: TalkTables;

  constructor(
    readonly store: Pick<Store, 'db' | 'folder' | 'raw'>,
    now: () => Date = () => new Date(),
  ) {
    this.#versions = new LoadedVersions(store.db);
    this.#watch = new StoreWatch(store);
    this.#makers = this.#newMakers();
    this.#parts = new PortParts(store.db);
    this.#added = new AddedFields(
      store.db,
      now,
      (name, survey) => this.#plain(name, survey, null),
      (survey) => this.#hanging(survey),
    );
    this.#talks = new TalkTables(store.db, {
      siteOf: (survey) => (survey === 0 ? () => '' : this.#added.siteOf(survey)),
      endpoints: (survey) => (survey === 0 ? new RowsTable([]) : this.#plain('endpoints', survey, null)),
    });
  }

  get #db(): Db {
    return this.store.db;
  }

  /** A thing as of a survey; where it can be, marked by what differs from another. */
  table(name: ThingName, survey: number, against: number | null): ThingTable {
    this.#notice();
    if (survey === 0 && !beforeSurveys.has(name)) return new RowsTable([]);
    this.#askedTo = Math.max(this.#askedTo, survey, against ?? 0);
    if (unmarked.has(name)) return this.#plain(name, survey, against);
    const now = this.#withMore(name, survey);
    if (against === null) return now;
    const then = this.#withMore(name, against);
    const known = this.#marked.get(
      `${name} ${survey} ${against}`,
      () => new MarkedTable(now, then, things[name]),
      this.#untilWritten(name),
    );
    if (known.isOf(now, then)) return known;
    this.#marked.delete(`${name} ${survey} ${against}`);
    return this.table(name, survey, against);
  }

  /** Who talks to whom as of a survey, with what only its columns tell. */
  talk(survey: number): ConversationsTable {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    return this.#talks.at(survey, this.#watch.newest);
  }

  /** Whether talk lies in memory; where it does not, it is read a step at a time by `readTalk`. */
  get hearsTalk(): boolean {
    return this.#talks.isRead;
  }

  readTalk(): Generator<void> {
    return this.#talks.reading();
  }

  /** Makes the newest talk ready with what came since, a step at a time. */
  *prepareTalk(survey: number): Generator<void> {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    yield* this.#talks.preparing(survey, this.#watch.newest);
  }

  /** Makes what is asked of the talk of a moment of the past, a step at a time. */
  *makeTalk(survey: number): Generator<void> {
    const table = this.talk(survey);
    yield;
    yield* table.making();
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

  /** Whatever has a release at a survey: it follows from that alone, but for where devices stand. */
  components(survey: number): readonly PlacedComponent[] {
    const make = () => componentsAt(this.#db, survey);
    return this.told('components', survey, make, String(editStamp(this.#db, 'siteRules', 'deviceSites')));
  }

  /** By row of a table: whether a filter holds it. @throws FilterError */
  select(
    name: ThingName,
    survey: number,
    table: ThingTable,
    where: string,
    extra: { table: ColumnSource; fields: { name: string; kind: 'text' }[] } = {
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
    this.#enriched.delete(`${name} ${survey}`);
    return this.#withMore(name, survey);
  }

  /** How many endpoints hang on each device at a survey. */
  endpointsByDevice(survey: number): ReadonlyMap<number, number> {
    this.#notice();
    return this.#hanging(survey);
  }

  /** Counted in memory where those before lie there already, else in the file: to read all of them for their number alone would take longer. */
  #hanging(survey: number): ReadonlyMap<number, number> {
    if (!this.#versions.begun) return endpointsByDevice(this.#db, survey);
    const counts = new Map<number, number>();
    for (const owner of this.#plain('endpoints', survey, null).owners())
      if (owner > 0) counts.set(owner, (counts.get(owner) ?? 0) + 1);
    return counts;
  }

  /** Every place an endpoint was found at up to a survey, oldest first. */
  endpointVersions(mac: string, survey: number): ReturnType<ReturnType<typeof endpointVersions>['versionsWith']> {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    this.#versions.load(survey);
    return this.#versions.endpoints.versionsWith('mac', mac);
  }

  /** MACs that had an address up to a survey, the latest to have it first. */
  macsWithAddress(survey: number, address: string): string[] {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    this.#versions.load(survey);
    return this.#versions.endpoints.valuesBeside('mac', 'addresses', address, survey).map(String);
  }

  /** What belongs to one device of a thing, without reading the rest where that can be. */
  ofDevice(name: ThingName, survey: number, deviceId: number): ThingRow[] {
    if (
      name === 'ports' ||
      name === 'endpoints' ||
      name === 'contracts' ||
      name === 'conversations' ||
      !partsOfDevices.has(name)
    ) {
      const table = this.table(name, survey, null);
      const owners = table.owners();
      return table.rows(everyRow(table.size).filter((row) => owners[row] === deviceId));
    }
    if (survey === 0) return [];
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    const rows = builders[name]({ ...this.#asked(survey), against: null, devices: [deviceId] }, (other) =>
      this.#plain(other, survey, null),
    ).filter((row) => Number(row.deviceId) === deviceId);
    const sited =
      sitedThings.has(name) && rows.length > 0
        ? rows.map((row) => ({ ...row, site: this.#added.siteOf(survey)(deviceId) }))
        : rows;
    return name === 'modules' ? this.#added.withCover(sited, survey) : sited;
  }

  /** Who belongs together by talk as of a survey, made a step at a time; at once where it is made already. */
  *circles(survey: number): Steps<Circles> {
    const stamp = `${slowTalkStamp(this.#db)} ${editStamp(this.#db, 'serviceRules')}`;
    const kept = this.told('circles', survey, () => ({ found: null as Circles | null }), stamp);
    const services = this.table('services', survey, null);
    return (kept.found ??= yield* circleSteps(this.#db, survey, this.talk(survey), services));
  }

  /** What follows from what surveys told up to one: made once, and again when any of them is not what it was. @param stamp of what else it follows from */
  told<Value>(name: string, survey: number, make: () => Value, stamp = ''): Value {
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    return this.#told.get(`${name} ${survey}`, make, stamp) as Value;
  }

  /** Reads ahead what is asked for most, a step at a time. */
  *readAhead(survey: number): Generator<void> {
    if (survey === 0) return;
    this.#notice();
    this.#askedTo = Math.max(this.#askedTo, survey);
    yield* readAhead({
      loading: () => this.#versions.loading(survey),
      plain: (name) => this.#plain(name, survey, null),
      table: (name) => this.table(name, survey, null),
      isAdded: (field) => this.#added.has(field),
      talk: () => this.#talks.reading(),
      found: (finder) => this.#finders.get(String(survey), () => finder),
    });
  }

  /** Whether all can be looked through for a word at a survey without reading first. */
  finds(survey: number): boolean {
    this.#notice();
    return this.#finders.has(String(survey));
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
        this.#versions.load(survey);
        return this.#large.get(
          `ports ${survey}`,
          () =>
            new PortsTable(
              this.#versions.ports,
              this.#context(survey),
              () => this.#plain('endpoints', survey, null) as EndpointsTable,
            ),
        );
      case 'endpoints':
        this.#versions.load(survey);
        return this.#large.get(
          `endpoints ${survey}`,
          () => new EndpointsTable(this.#versions.endpoints, this.#context(survey), this.#makers),
        );
      case 'modules':
        this.#versions.load(survey);
        return this.#tables.get(
          `modules ${survey} `,
          () => new ModulesTable(this.#versions.modules, this.#context(survey)),
        );
      case 'conversations':
        return this.#talks.at(survey, this.#watch.newest);
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
          `${name} ${survey} ${name === 'changes' ? against : ''}`,
          () =>
            new RowsTable(
              builders[name](
                {
                  ...this.#asked(survey),
                  against,
                  ...(name === 'ledger' && { serials: () => this.#serials(survey) }),
                },
                (other) => (other === name ? columnsOfRows([]) : this.#plain(other, survey, against)),
              ),
            ),
          this.#untilWritten(name),
        );
    }
  }

  #asked(survey: number): Pick<Asked, 'db' | 'survey' | 'talk' | 'circles' | 'cover' | 'components'> {
    return {
      db: this.#db,
      survey,
      talk: () => this.#talks.at(survey, this.#watch.newest),
      circles: () => atOnce(this.circles(survey)),
      cover: () => this.#added.coverAt(survey),
      components: () => this.components(survey),
    };
  }

  #serials(survey: number): Iterable<SerialVersion> {
    this.#versions.load(survey);
    return this.#versions.modules.history(['serial', 'description', 'name', 'model', 'class', 'path']);
  }

  /** What is another whenever a thing that surveys alone do not tell is to be made anew. */
  #untilWritten(name: ThingName): string {
    // what captures tell comes between surveys
    if (name === 'circles') return slowTalkStamp(this.#db);
    if (name === 'applications') return `${slowTalkStamp(this.#db)} ${this.#watch.stamp}`;
    return followSettings.has(name) ? this.#watch.stamp : '';
  }

  #context(survey: number): SurveyContext {
    return this.#contexts.get(String(survey), () => new SurveyContext(this.#db, survey, this.#parts));
  }

  #newMakers(): Makers {
    return new Makers(this.#versions.endpoints.column('mac').dictionary, makerLookup(this.#db));
  }

  /** Gives up what is no longer so, since something was written. */
  #notice(): void {
    if (this.#added.timePassed()) this.#enriched.clear();
    const written = this.#watch.look(this.#askedTo);
    if (!written) return;
    if (this.#added.readAgain()) this.#enriched.clear();
    if (written.identities || written.pastSurveys) this.#forget();
    // they are found by their numbers
    if (written.contracts) this.#finders.clear();
    if (!written.makers) return;
    this.#makers = this.#newMakers();
    for (const kept of [this.#large, this.#marked, this.#finders]) kept.clear();
  }

  #forget(): void {
    this.#versions = new LoadedVersions(this.#db);
    this.#makers = this.#newMakers();
    this.#parts = new PortParts(this.#db);
    this.#askedTo = 0;
    for (const kept of [
      this.#tables,
      this.#large,
      this.#marked,
      this.#contexts,
      this.#told,
      this.#finders,
      this.#enriched,
    ])
      kept.clear();
    this.#talks.forget();
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
