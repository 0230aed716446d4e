import type { AttachmentFacts } from '../../../core/switching/placement';
import type { Basis } from '../../../core/switching/settled';
import { constantColumn, gather, valueAt, type Column } from '../../../core/tables/column';
import { DerivedValues } from '../../../core/tables/derivedValues';
import type { Dictionary } from '../../../core/tables/dictionary';
import { placementWords } from '../../../core/things/placementWords';
import type { Db } from '../../../store/base/database';
import type { ThingRow } from '../rows/rowBuilder';
import { inOrderOfDevices } from './deviceOrder';
import { FactVersions } from './factVersions';
import type { Guest } from '../columns/pluggedIn';
import type { SurveyContext } from './surveyContext';
import type { ThingTable } from './thingTable';

export const endpointVersions = (db: Db): FactVersions<AttachmentFacts> =>
  new FactVersions<AttachmentFacts>(
    db,
    'attachment',
    {
      mac: ({ mac }) => mac,
      addresses: ({ addresses }) => addresses,
      vlan: ({ vlan }) => vlan,
      port: ({ port }) => port ?? '',
      via: ({ via }) => via ?? '',
      basis: ({ deviceId, basis }) => basis ?? (deviceId === null ? '' : 'heard'),
      deviceId: ({ deviceId }) => deviceId ?? 0,
      ownDeviceId: ({ ownDeviceId }) => ownDeviceId ?? 0,
    },
    [
      { field: 'deviceId', kind: 'number' },
      { field: 'port', kind: 'text' },
      { field: 'mac', kind: 'mac' },
    ],
  );

/** Endpoints as of a survey, in the order of where they hang. */
export class EndpointsTable implements ThingTable {
  readonly size: number;
  readonly #versions: Uint32Array;
  readonly #columns = new Map<string, Column>();
  #owners: Uint32Array | null = null;
  /** by number of a MAC: its row, one too high */
  #places: Uint32Array | null = null;
  #byDevice: Map<number, { first: number; behind: number }> | null = null;

  constructor(
    readonly facts: FactVersions<AttachmentFacts>,
    readonly context: SurveyContext,
    readonly makers: Makers,
  ) {
    const { dictionary, codes } = facts.column('deviceId');
    this.#versions = inOrderOfDevices(facts.asOf(context.survey), codes, (code) =>
      context.nameOf(Number(dictionary.values[code])),
    );
    this.size = this.#versions.length;
  }

  column = (field: string): Column => {
    let column = this.#columns.get(field);
    if (!column) this.#columns.set(field, (column = this.#make(field)));
    return column;
  };

  keys(): Uint32Array {
    return this.column('mac').codes;
  }

  rowOf(id: string): number {
    const { dictionary, codes } = this.column('mac');
    if (!this.#places) {
      this.#places = new Uint32Array(dictionary.size);
      for (let row = 0; row < codes.length; row++) this.#places[codes[row] ?? 0] = row + 1;
    }
    return (this.#places[dictionary.find(id) ?? -1] ?? 0) - 1;
  }

  owners(): Uint32Array {
    if (!this.#owners) {
      const { dictionary, codes } = this.column('deviceId');
      const numbers = Uint32Array.from(dictionary.values, Number);
      this.#owners = codes.map((code) => numbers[code] ?? 0);
    }
    return this.#owners;
  }

  versions(): { facts: { has: (field: string) => boolean }; numbers: Uint32Array } {
    return { facts: this.facts, numbers: this.#versions };
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    const { context } = this;
    const versions = Array.from(wanted, (at) => this.#versions[at] ?? 0);
    const macs = this.facts.column('mac').codes;
    return this.facts.contents(versions).map((content, nth) => ({
      id: content.mac,
      mac: content.mac,
      addresses: content.addresses,
      host: this.#hostOf(content.ownDeviceId ?? 0, content.mac),
      maker: this.makers.of(content.mac),
      vlan: content.vlan,
      device: content.deviceId === null ? '' : context.nameOf(content.deviceId),
      deviceId: content.deviceId,
      ownDevice: content.ownDeviceId === null ? null : (context.names.get(content.ownDeviceId) ?? null),
      port: content.port ?? '',
      via: content.via ?? '',
      basis: content.basis ?? (content.deviceId === null ? '' : 'heard'),
      firstSeen: this.#firstSeen(macs[versions[nth] ?? 0] ?? 0),
      lastSeen: context.calendar.momentOf(context.survey),
      toldBy: (content.evidence ?? []).map(context.nameOf),
      evidence: placementWords(content, context.nameOf, context.neighbours.get(`${content.deviceId} ${content.port}`)),
    }));
  }

  /** What a port tells of an endpoint at it. */
  guest(row: number): PortGuest {
    const value = (field: string) => valueAt(this.column(field), row);
    const [mac, ownDeviceId] = [String(value('mac')), Number(value('ownDeviceId'))];
    return {
      mac,
      vlan: value('vlan') as number | null,
      address: (value('addresses') as string[])[0] ?? '',
      host: this.#hostOf(ownDeviceId, mac),
      maker: this.makers.of(mac),
      device: this.context.names.get(ownDeviceId) ?? null,
      lastSeen: this.context.calendar.momentOf(this.context.survey),
      via: value('via') as string,
      basis: value('basis') as Basis | '',
      on: this.context.nameOf(Number(value('deviceId'))),
    };
  }

  /** The rows of the endpoints at a port. Those of a device stand beside each other. */
  atPort(deviceId: number, port: string): number[] {
    const ports = this.column('port');
    const range = this.#rangeOf(deviceId);
    const rows: number[] = [];
    if (range) for (let row = range.first; row < range.behind; row++) if (valueAt(ports, row) === port) rows.push(row);
    return rows;
  }

  #rangeOf(deviceId: number): { first: number; behind: number } | undefined {
    if (!this.#byDevice) {
      this.#byDevice = new Map();
      const owners = this.owners();
      for (let first = 0; first < this.size;) {
        let behind = first + 1;
        while (behind < this.size && owners[behind] === owners[first]) behind++;
        this.#byDevice.set(owners[first] ?? 0, { first, behind });
        first = behind;
      }
    }
    return this.#byDevice.get(deviceId);
  }

  #make(field: string): Column {
    if (this.facts.has(field)) return gather(this.facts.column(field), this.#versions);
    const derived = (from: string, value: (value: unknown, code: number) => unknown) =>
      new DerivedValues(this.column(from).dictionary, value).column(this.column(from));
    switch (field) {
      case 'device':
        return derived('deviceId', (id) => this.context.nameOf(Number(id)));
      case 'maker':
        return this.makers.column(this.column('mac'));
      case 'host':
        return this.#hosts();
      case 'firstSeen':
        return derived('mac', (_, code) => this.#firstSeen(code));
      case 'lastSeen':
        return constantColumn(this.context.calendar.momentOf(this.context.survey), this.size);
      default:
        throw new Error(`endpoints have no column “${field}”`);
    }
  }

  /** The inventoried device that owns the MAC, or what it calls itself. */
  #hostOf(ownDeviceId: number, mac: string): string {
    return this.context.names.get(ownDeviceId) ?? this.context.hosts.get(mac) ?? '';
  }

  #hosts(): Column {
    const { hosts, names } = this.context;
    const owners = this.column('ownDeviceId');
    const { dictionary, codes } = new DerivedValues(owners.dictionary, (id) => names.get(Number(id)) ?? '').column(
      owners,
    );
    const macs = this.column('mac');
    const rows = new Uint32Array(macs.dictionary.size);
    for (let row = 0; row < this.size; row++) rows[macs.codes[row] ?? 0] = row + 1;
    const nobody = dictionary.codeOf('');
    for (const [mac, host] of hosts) {
      const row = (rows[macs.dictionary.find(mac) ?? -1] ?? 0) - 1;
      if (row >= 0 && codes[row] === nobody) codes[row] = dictionary.codeOf(host);
    }
    return { dictionary, codes };
  }

  /** The first survey in which a MAC was heard anywhere. */
  #firstSeen(mac: number): string {
    return this.context.calendar.momentOf(this.facts.firstSurveys('mac')[mac] ?? 0);
  }
}

/** An endpoint as its port tells it. */
export interface PortGuest extends Guest {
  vlan: number | null;
  /** the inventoried device that it is */
  device: string | null;
  lastSeen: string;
  /** the device it hangs on */
  on: string;
}

/** Makers of MACs, worked out once for all surveys. */
export class Makers {
  readonly #values: DerivedValues;

  constructor(
    macs: Dictionary,
    readonly of: (mac: string) => string,
  ) {
    this.#values = new DerivedValues(macs, (mac) => of(String(mac)));
  }

  column(macs: Column): Column {
    return this.#values.column(macs);
  }
}
