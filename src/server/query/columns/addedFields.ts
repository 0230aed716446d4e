import { FilterError } from '../../../core/filter/filterNode';
import { parseFilter } from '../../../core/filter/syntax';
import { CoverIndex, type Cover } from '../../../core/cover/cover';
import { GroupMistake, groupsNeeded } from '../../../core/groups/group';
import { ownedThings } from '../../../core/own/ownField';
import { everyRow, valueAt, type Column } from '../../../core/tables/column';
import { DerivedValues } from '../../../core/tables/derivedValues';
import { selectRows } from '../../../core/tables/select';
import { pluggedInto } from '../../../core/topology/pluggedInto';
import type { LinkFacts } from '../../../core/topology/links';
import { sitedThings, type ThingName } from '../../../core/things/things';
import type { ThingField } from '../../../core/things/thing';
import type { Db } from '../../../store/base/database';
import type { KeptContract } from '../../../store/contracts';
import type { KeptGroup } from '../../../store/groups';
import { ownValuesOf } from '../../../store/ownValues';
import type { ThingRow } from '../rows/rowBuilder';
import { Calendar } from '../calendar';
import { ChassisOf, coverColumn, coverFields, deviceCovers, partCovers, rowsWithCover } from './coverColumns';
import { columnByOwner, groupColumn, sparseColumn } from './addedColumns';
import { cutFields, cutsIn, devicesAlike, neighboursThatAreNew, sparesLost, spareFields } from './networkColumns';
import { outletColumn, outletFields, roomsOfDevices } from './floorColumns';
import { fabricFields, fabricPlaces } from './fabricColumns';
import { EnrichedTable } from '../tables/enrichedTable';
import { Cache } from '../cache';
import { PeopleKnowledge } from './peopleKnowledge';
import { relationsOf } from '../relations';
import type { ThingTable } from '../tables/thingTable';

type ColumnMakers = Map<string, (base: ThingTable) => Column>;

const added = new Set([
  'site',
  'group',
  'releasedAt',
  'releaseAgeSeconds',
  'maintenance',
  'maintenanceUntil',
  'askedBy',
  'pluggedInto',
  'room',
  'newNeighbour',
  'alike',
  ...fabricFields,
  ...cutFields,
  ...spareFields,
  ...outletFields,
  ...coverFields,
]);

/** Fields that are not of the rows themselves: what follows from their device, and what people say of them. They hold as they stand now, whatever survey is looked at. */
export class AddedFields {
  #people: PeopleKnowledge;
  #moments: string;
  readonly #members = new Cache<Uint8Array>(60);
  readonly #covers = new Cache<CoverIndex>(8);
  readonly #cuts = new Cache<ReturnType<typeof cutsIn>>(4);
  readonly #spares = new Cache<ReturnType<typeof sparesLost>>(4);

  /** @param plain a table without these fields @param hanging endpoints by device */
  constructor(
    readonly db: Db,
    readonly now: () => Date,
    readonly plain: (name: ThingName, survey: number) => ThingTable,
    readonly hanging: (survey: number) => ReadonlyMap<number, number>,
  ) {
    this.#people = new PeopleKnowledge(db);
    this.#moments = this.#people.momentsPassed(now());
  }

  /** Reads again what people wrote. @returns whether it is another */
  readAgain(): boolean {
    const people = new PeopleKnowledge(this.db);
    if (people.written === this.#people.written) return false;
    this.#people = people;
    this.#moments = people.momentsPassed(this.now());
    this.forget();
    return true;
  }

  /** Whether a time of maintenance began or ended since the last look. */
  timePassed(): boolean {
    const moments = this.#people.momentsPassed(this.now());
    if (moments === this.#moments) return false;
    this.#moments = moments;
    this.forget();
    return true;
  }

  forget(): void {
    this.#members.clear();
    this.#covers.clear();
    this.#cuts.clear();
    this.#spares.clear();
  }

  has = (field: string): boolean => added.has(field);

  /** All fields of a thing, those of one’s own too. */
  fieldsOf = (name: ThingName): ThingField[] => this.#people.fieldsOf(name);

  /** How the columns of the added fields of a thing are made. */
  of = (name: ThingName, survey: number): ColumnMakers => this.#makers(name, survey, this.#people.groups, true);

  /** @param groups those that may be named, when they are themselves being told */
  #makers(name: ThingName, survey: number, groups: KeptGroup[], maintenance: boolean): ColumnMakers {
    const makers: ColumnMakers = new Map();
    if (sitedThings.has(name)) makers.set('site', (base) => columnByOwner(base.owners(), this.siteOf(survey)));
    const owned = ownedThings.find((thing) => thing === name);
    for (const { thing, name: field, kind } of this.#people.own)
      if (owned && thing === owned)
        makers.set(field, (base) =>
          sparseColumn(base, ownValuesOf(this.db, owned, field), kind === 'tags' ? [] : null),
        );
    if (name === 'devices' || name === 'ports') {
      makers.set('group', (base) =>
        groupColumn(
          base.size,
          groups
            .filter(({ thing }) => thing === name)
            .map((group) => ({ name: group.name, fits: this.#membersOf(group, survey) })),
        ),
      );
    }
    if (name === 'devices') this.#addOfDevices(makers, survey, maintenance);
    this.#addCover(makers, name, survey);
    if (name === 'links' || name === 'devices')
      for (const field of cutFields)
        makers.set(field, (base) => sparseColumn(base, valuesOf(this.#cutsAt(survey)[name], field), 0));
    if (name === 'links')
      for (const field of spareFields)
        makers.set(field, (base) =>
          sparseColumn(
            base,
            valuesOf(
              this.#spares.get(String(survey), () => sparesLost(this.db, survey)),
              field,
            ),
            '',
          ),
        );
    if (name === 'endpoints')
      for (const field of fabricFields)
        makers.set(field, (base) => sparseColumn(base, fabricPlaces(this.db, survey, field), ''));
    if (name === 'ports')
      makers.set('newNeighbour', (base) => sparseColumn(base, neighboursThatAreNew(this.db, survey), ''));
    if (name === 'devices') makers.set('room', (base) => sparseColumn(base, roomsOfDevices(this.#people.plans), ''));
    if (name === 'ports' || name === 'endpoints')
      for (const field of outletFields)
        makers.set(field, (base) => outletColumn(base, name, field, this.#people.outlets));
    return makers;
  }

  #cutsAt(survey: number): ReturnType<typeof cutsIn> {
    return this.#cuts.get(String(survey), () =>
      cutsIn(this.plain('devices', survey), this.plain('links', survey), this.hanging(survey)),
    );
  }

  /** Who covers what on the day of a survey; at the newest one, today. */
  coverAt(survey: number): CoverIndex {
    const day = (
      survey >= this.#people.latest ? this.now().toISOString() : new Calendar(this.db).momentOf(survey)
    ).slice(0, 10);
    return this.#covers.get(day, () => new CoverIndex(this.#people.contracts, day));
  }

  /** Fields that modules of one device have beside those they are read with. */
  withCover = (rows: ThingRow[], survey: number): ThingRow[] =>
    rowsWithCover(rows, this.coverAt(survey), this.#textOf('serial', survey));

  /** Contracts as they stand, and what is another wherever they are written, or told on another day. */
  contracts = (): KeptContract[] => this.#people.contracts;
  contractsAt = (survey: number): string => `${this.#people.contractStamp} ${this.coverAt(survey).day}`;

  #addCover(makers: ColumnMakers, name: ThingName, survey: number): void {
    let known: ChassisOf | null = null;
    const chassis = () => (known ??= new ChassisOf(this.plain('modules', survey), this.#textOf('serial', survey)));
    const coversOf: Partial<Record<ThingName, (base: ThingTable) => (row: number) => Cover | null>> = {
      devices: (base) => deviceCovers(base, this.coverAt(survey)),
      modules: (base) => partCovers(base, this.coverAt(survey), { path: 'path' }, chassis),
      ledger: (base) => {
        const states = base.column('state');
        return partCovers(
          base,
          this.coverAt(survey),
          { path: 'place', held: (row) => valueAt(states, row) === 'in service' },
          chassis,
        );
      },
    };
    const covers = coversOf[name];
    if (covers)
      for (const field of coverFields) makers.set(field, (base) => coverColumn(base.size, field, covers(base)));
  }

  #addOfDevices(makers: ColumnMakers, survey: number, maintenance: boolean): void {
    const noEnds = new Map<string, string>();
    let known: { base: ThingTable; ends: Map<string, string> } | null = null;
    const endsOf = (base: ThingTable) => {
      if (known?.base !== base) known = { base, ends: maintenance ? this.#maintenanceEnds(survey, base) : noEnds };
      return known.ends;
    };
    makers.set('maintenance', (base) =>
      sparseColumn(base, new Map(Array.from(endsOf(base).keys(), (id) => [id, true])), false),
    );
    makers.set('maintenanceUntil', (base) => sparseColumn(base, endsOf(base), ''));
    makers.set('askedBy', (base) =>
      new DerivedValues(base.column('credential').dictionary, (name) => this.#people.kindOf(String(name))).column(
        base.column('credential'),
      ),
    );
    makers.set('alike', (base) => sparseColumn(base, devicesAlike(this.db, survey), ''));
    makers.set('pluggedInto', (base) => sparseColumn(base, this.#pluggedInto(base, survey), ''));
    makers.set('releasedAt', (base) => this.#published(base, (day) => day));
    makers.set('releaseAgeSeconds', (base) => {
      const moment = Date.parse(new Calendar(this.db).momentOf(survey));
      return this.#published(base, (day) =>
        day === null ? null : Math.max(0, Math.round((moment - Date.parse(day)) / 1000)),
      );
    });
  }

  #pluggedInto(base: ThingTable, survey: number): Map<string, string> {
    const roles = base.column('role');
    const links = this.plain('links', survey);
    const found = pluggedInto(links.rows(everyRow(links.size)) as unknown as LinkFacts[], (deviceId) => {
      const row = base.rowOf(String(deviceId));
      return row < 0 ? '' : String(valueAt(roles, row));
    });
    return new Map([...found].map(([id, places]) => [String(id), places]));
  }

  /** What follows from the day on which each device’s release was published. */
  #published(base: ThingTable, from: (day: string | null) => unknown): Column {
    const [vendors, families, releases] = [base.column('vendor'), base.column('family'), base.column('release')];
    const text = (column: Column, row: number) => String(valueAt(column, row));
    return sparseColumn(
      base,
      new Map(
        Array.from(base.keys(), (id, row) => [
          String(id),
          from(this.#people.published(text(vendors, row), text(families, row), text(releases, row))),
        ]),
      ),
    );
  }

  /** How many members a group has, and what is wrong with it where its filter cannot be read any more. */
  membersTold(group: KeptGroup, survey: number): { rows: number; mistake: string | null } {
    if (survey === 0) return { rows: 0, mistake: null };
    try {
      return { rows: this.#tellMembers(group, survey).reduce((sum, fit) => sum + fit, 0), mistake: null };
    } catch (error) {
      if (error instanceof FilterError) return { rows: 0, mistake: `${error.message}; expected ${error.expected}` };
      if (error instanceof GroupMistake) return { rows: 0, mistake: error.message };
      throw error;
    }
  }

  /** By row of the plain table of its thing: whether it is in a group. One whose filter cannot be read any more is empty. */
  #membersOf(group: KeptGroup, survey: number): Uint8Array {
    return this.#members.get(`${group.id} ${survey}`, () => {
      try {
        return this.#tellMembers(group, survey);
      } catch (error) {
        if (error instanceof FilterError || error instanceof GroupMistake)
          return new Uint8Array(this.plain(group.thing, survey).size);
        throw error;
      }
    });
  }

  /** @throws FilterError, GroupMistake */
  #tellMembers(group: KeptGroup, survey: number): Uint8Array {
    const plain = this.plain(group.thing, survey);
    const needed = groupsNeeded(group, this.#people.groups) as KeptGroup[];
    const fits =
      group.kind === 'filter' ? this.#select(group.thing, survey, group.where, needed) : new Uint8Array(plain.size);
    if (group.kind === 'fixed') {
      for (const id of group.members) {
        const row = plain.rowOf(id);
        if (row >= 0) fits[row] = 1;
      }
    }
    for (const inner of needed)
      if (inner.within?.toLowerCase() === group.name.toLowerCase())
        this.#membersOf(inner, survey).forEach((fit, row) => fit && (fits[row] = 1));
    return fits;
  }

  /** By row of the plain table: what a filter holds that may name only some groups, and nothing of maintenance. @throws FilterError */
  #select(name: ThingName, survey: number, where: string, groups: KeptGroup[]): Uint8Array {
    const limited = (other: ThingName) =>
      new EnrichedTable(this.plain(other, survey), this.#makers(other, survey, groups, false));
    const table = limited(name);
    return selectRows(parseFilter(where), {
      table,
      fields: this.fieldsOf(name),
      related: relationsOf(name, table, limited, this.fieldsOf),
    });
  }

  /** When maintenance ends of each device that is in it, by its id; the latest end where there are several, empty where none is set. */
  #maintenanceEnds(survey: number, base: ThingTable): Map<string, string> {
    const ends = new Map<string, string>();
    const moment = survey >= this.#people.latest ? this.now().toISOString() : new Calendar(this.db).momentOf(survey);
    const keys = base.keys();
    for (const { where, until } of this.#people.maintenanceAt(moment)) {
      let fits: Uint8Array;
      try {
        fits = this.#select('devices', survey, where, this.#people.groups);
      } catch (error) {
        if (!(error instanceof FilterError)) throw error;
        continue;
      }
      fits.forEach((fit, row) => {
        if (!fit) return;
        const id = String(keys[row]);
        const before = ends.get(id);
        ends.set(id, until === null || before === '' ? '' : before !== undefined && before > until ? before : until);
      });
    }
    return ends;
  }

  siteOf = (survey: number): ((deviceId: number) => string) => this.#textOf('site', survey);

  /** A field of devices by their numbers. */
  #textOf(field: string, survey: number): (deviceId: number) => string {
    const devices = this.plain('devices', survey);
    const column = devices.column(field);
    return (deviceId) => {
      const row = devices.rowOf(String(deviceId));
      return row < 0 ? '' : String(valueAt(column, row));
    };
  }
}

/** One field of what is known of some rows, by their ids. */
const valuesOf = <Row>(rows: ReadonlyMap<string, Row>, field: keyof Row): Map<string, unknown> =>
  new Map(Array.from(rows, ([id, row]) => [id, row[field]]));
