import type { AttachmentFacts } from '../../core/switching/placement';
import { constantColumn, gather, valueAt, type Column } from '../../core/tables/column';
import { Dictionary } from '../../core/tables/dictionary';
import { orderRows } from '../../core/tables/order';
import { placementWords } from '../../core/things/placementWords';
import type { Db } from '../../store/database';
import type { ThingRow } from '../things/asked';
import { FactVersions } from './factVersions';
import type { SurveyContext } from './surveyContext';
import type { ThingTable } from './thingTable';

export const endpointVersions = (db: Db): FactVersions<AttachmentFacts> =>
  new FactVersions<AttachmentFacts>(db, 'attachment', {
    mac: ({ mac }) => mac, addresses: ({ addresses }) => addresses, vlan: ({ vlan }) => vlan, port: ({ port }) => port ?? '', via: ({ via }) => via ?? '', deviceId: ({ deviceId }) => deviceId ?? 0, ownDeviceId: ({ ownDeviceId }) => ownDeviceId ?? 0,
  });

/** Endpoints as of a survey, in the order of where they hang. */
export class EndpointsTable implements ThingTable {
  readonly size: number;
  readonly #versions: Uint32Array;
  readonly #columns = new Map<string, Column>();
  #byPort: Map<string, { first: number; behind: number }> | null = null;

  constructor(readonly facts: FactVersions<AttachmentFacts>, readonly context: SurveyContext, readonly makerOf: (mac: string) => string) {
    const found = facts.asOf(context.survey);
    this.size = found.length;
    const column = (field: string) => gather(facts.column(field), found);
    const order = orderRows(Uint32Array.from(found.keys()), [
      { column: mapped(column('deviceId'), (id) => context.nameOf(Number(id))), kind: 'text', descending: false },
      { column: column('port'), kind: 'text', descending: false },
      { column: column('mac'), kind: 'mac', descending: false },
    ]);
    // what hangs nowhere comes last: an empty name has no place in the order
    this.#versions = Uint32Array.from(order, (at) => found[at] ?? 0);
  }

  column = (field: string): Column => {
    let column = this.#columns.get(field);
    if (!column) this.#columns.set(field, (column = this.#make(field)));
    return column;
  };

  keys(): Uint32Array {
    return this.column('mac').codes;
  }

  owners(): Uint32Array {
    const { dictionary, codes } = this.column('deviceId');
    return codes.map((code) => Number(dictionary.values[code]));
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    const places = [...wanted];
    const { context } = this;
    return this.facts.contents(places.map((at) => this.#versions[at] ?? 0)).map((content, nth) => {
      const at = places[nth] ?? 0;
      const value = (field: string) => valueAt(this.column(field), at);
      return {
        id: content.mac, mac: content.mac, addresses: content.addresses, host: value('host'), maker: value('maker'), vlan: content.vlan, device: value('device'), deviceId: content.deviceId,
        ownDevice: content.ownDeviceId === null ? null : (context.names.get(content.ownDeviceId) ?? null),
        port: content.port ?? '', via: content.via ?? '', firstSeen: value('firstSeen'), lastSeen: value('lastSeen'),
        evidence: placementWords(content, context.nameOf, context.neighbours.get(`${content.deviceId} ${content.port}`)),
      };
    });
  }

  /** The rows of the endpoints at a port: they stand beside each other. */
  atPort(deviceId: number, port: string): { first: number; behind: number } | undefined {
    if (!this.#byPort) {
      this.#byPort = new Map();
      const [owners, ports] = [this.column('deviceId'), this.column('port')];
      for (let first = 0; first < this.size; ) {
        let behind = first + 1;
        while (behind < this.size && owners.codes[behind] === owners.codes[first] && ports.codes[behind] === ports.codes[first]) behind++;
        this.#byPort.set(`${String(valueAt(owners, first))} ${String(valueAt(ports, first))}`, { first, behind });
        first = behind;
      }
    }
    return this.#byPort.get(`${deviceId} ${port}`);
  }

  #make(field: string): Column {
    if (this.facts.has(field)) return gather(this.facts.column(field), this.#versions);
    switch (field) {
      case 'device': return mapped(this.column('deviceId'), (id) => this.context.nameOf(Number(id)));
      case 'maker': return mapped(this.column('mac'), (mac) => this.makerOf(String(mac)));
      case 'host': return this.#hosts();
      case 'firstSeen': return this.#firstSeen();
      case 'lastSeen': return constantColumn(this.context.calendar.momentOf(this.context.survey), this.size);
      default: throw new Error(`endpoints have no column “${field}”`);
    }
  }

  /** The inventoried device that owns the MAC, or what it calls itself. */
  #hosts(): Column {
    const { hosts, names } = this.context;
    const [macs, owners] = [this.column('mac'), this.column('ownDeviceId')];
    const dictionary = new Dictionary();
    const codes = new Uint32Array(this.size);
    for (let at = 0; at < codes.length; at++) codes[at] = dictionary.codeOf(names.get(Number(valueAt(owners, at))) ?? hosts.get(String(valueAt(macs, at))) ?? '');
    return { dictionary, codes };
  }

  /** The first survey in which the MAC was heard anywhere. */
  #firstSeen(): Column {
    const macs = this.facts.column('mac').codes;
    const begun = this.facts.begun();
    const first = new Uint32Array(this.facts.column('mac').dictionary.size).fill(0xffff_ffff);
    for (let version = 0; version < macs.length; version++) first[macs[version] ?? 0] = Math.min(first[macs[version] ?? 0] ?? 0, begun[version] ?? 0);
    return mappedByCode(this.column('mac'), (code) => this.context.calendar.momentOf(first[code] ?? 0));
  }
}

/** A column of what follows from another's values. */
function mapped(column: Column, from: (value: unknown) => unknown): Column {
  return mappedByCode(column, (code) => from(column.dictionary.values[code]));
}

function mappedByCode({ codes, dictionary: known }: Column, from: (code: number) => unknown): Column {
  const dictionary = new Dictionary();
  const unknown = 0xffff_ffff;
  const made = new Uint32Array(known.size).fill(unknown);
  return {
    dictionary,
    codes: codes.map((code) => {
      if (made[code] === unknown) made[code] = dictionary.codeOf(from(code));
      return made[code] ?? 0;
    }),
  };
}
