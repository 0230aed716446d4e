import type { NeighbourFacts, PortFacts, PortKind } from '../../core/estate/facts';
import { gather, pick, valueAt, type Column } from '../../core/tables/column';
import { Dictionary } from '../../core/tables/dictionary';
import type { Db } from '../../store/database';
import type { ThingRow } from '../things/asked';
import { inOrderOfDevices } from './deviceOrder';
import type { EndpointsTable } from './endpointsTable';
import { FactVersions } from './factVersions';
import { columnByOwner } from './addedColumns';
import { pluggedIn, powerWords, type Guest } from './pluggedIn';
import type { FarEnd, SurveyContext } from './surveyContext';
import type { ThingTable } from './thingTable';

export const portVersions = (db: Db): FactVersions<PortFacts> =>
  new FactVersions<PortFacts>(db, 'port', {
    index: ({ index }) => index, name: ({ name }) => name, alias: ({ alias }) => alias, description: ({ description }) => description, type: ({ type }) => type, admin: ({ admin }) => admin, oper: ({ oper }) => oper,
    speedBps: ({ speedBps }) => speedBps, duplex: ({ duplex }) => duplex, media: ({ media }) => media, autoNegotiation: ({ autoNegotiation }) => autoNegotiation, mtu: ({ mtu }) => mtu, vlan: ({ vlan }) => vlan,
    taggedVlans: ({ taggedVlans }) => taggedVlans, lag: ({ lag }) => lag, mac: ({ mac }) => mac, addresses: ({ addresses }) => addresses, power: ({ poe }) => powerWords(poe), deviceId: (_, deviceId) => deviceId,
  }, [{ field: 'deviceId', kind: 'number' }, { field: 'index', kind: 'number' }]);

/** Ports as of a survey, device by device, in the order of their numbers. */
export class PortsTable implements ThingTable {
  readonly size: number;
  readonly #versions: Uint32Array;
  readonly #owners: Uint32Array;
  readonly #columns = new Map<string, Column>();
  #places: Map<number, number> | null = null;

  constructor(readonly facts: FactVersions<PortFacts>, readonly context: SurveyContext, readonly endpoints: () => EndpointsTable) {
    const all = facts.owners();
    this.#versions = inOrderOfDevices(facts.asOf(context.survey), all, context.nameOf);
    this.size = this.#versions.length;
    this.#owners = pick(all, this.#versions);
  }

  column = (field: string): Column => {
    let column = this.#columns.get(field);
    if (!column) {
      if (field === 'pluggedIn' || field === 'how') this.#plugIn();
      else this.#columns.set(field, this.#make(field));
      column = this.#columns.get(field);
    }
    if (!column) throw new Error(`ports have no column “${field}”`);
    return column;
  };

  /** A device has each name once. */
  keys(): Float64Array {
    const { codes } = this.column('name');
    const keys = new Float64Array(this.size);
    for (let at = 0; at < keys.length; at++) keys[at] = keyOf(this.#owners[at] ?? 0, codes[at] ?? 0);
    return keys;
  }

  rowOf(id: string): number {
    const [, deviceId, name] = /^(\d+):(.*)$/s.exec(id) ?? [];
    const code = this.column('name').dictionary.find(name);
    this.#places ??= new Map(Array.from(this.keys(), (key, at) => [key, at]));
    return code === undefined ? -1 : (this.#places.get(keyOf(Number(deviceId), code)) ?? -1);
  }

  owners(): Uint32Array {
    return this.#owners;
  }

  versions(): { facts: { has: (field: string) => boolean }; numbers: Uint32Array } {
    return { facts: this.facts, numbers: this.#versions };
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    const places = [...wanted];
    const contents = this.facts.contents(places.map((at) => this.#versions[at] ?? 0));
    return contents.map((content, nth) => this.#row(content, this.#owners[places[nth] ?? 0] ?? 0));
  }

  #row(content: PortFacts, deviceId: number): ThingRow {
    const { link, heard, kind } = this.#around(deviceId, content.name);
    const endpoints = this.endpoints().atPort(deviceId, content.name).map((row) => this.endpoints().guest(row));
    return {
      id: `${deviceId}:${content.name}`, deviceId, device: this.context.nameOf(deviceId), ...content, voiceVlan: null, poe: content.poe ? { ...content.poe, watts: null } : null, power: powerWords(content.poe),
      lastChangeSeconds: this.context.ageOf(deviceId, content.name), kind: kind ?? 'unused',
      neighbour: link ? { device: link.device, port: link.port, source: link.source } : heard ? { device: heard.systemName || heard.chassisId, port: heard.portId, source: 'lldp' } : null,
      endpoints, ...pluggedIn(kind, link, heard, endpoints),
    };
  }

  #around(deviceId: number, port: string): { link: FarEnd | undefined; heard: NeighbourFacts | undefined; kind: PortKind | undefined } {
    const place = `${deviceId} ${port}`;
    return { link: this.context.farEnds.get(place), heard: this.context.neighbours.get(place), kind: this.context.kindOf(deviceId, port) };
  }

  #make(field: string): Column {
    if (this.facts.has(field)) return gather(this.facts.column(field), this.#versions);
    const names = this.facts.column('name');
    const ofPort = (value: (deviceId: number, port: string) => unknown): Column => {
      const dictionary = new Dictionary();
      return { dictionary, codes: this.#versions.map((version, at) => dictionary.codeOf(value(this.#owners[at] ?? 0, String(valueAt(names, version))))) };
    };
    if (field === 'device') return columnByOwner(this.#owners, this.context.nameOf);
    switch (field) {
      case 'kind':
        this.context.readKinds();
        return ofPort((deviceId, port) => this.context.kindOf(deviceId, port) ?? 'unused');
      case 'lastChangeSeconds':
        this.context.readMoments();
        return ofPort((deviceId, port) => this.context.ageOf(deviceId, port));
      default: throw new Error(`ports have no column “${field}”`);
    }
  }

  /** What hangs on each port, and how that is known. */
  #plugIn(): void {
    this.context.readKinds();
    const endpoints = this.endpoints();
    const [macs, addresses, hosts, makers, vias] = ['mac', 'addresses', 'host', 'maker', 'via'].map((field) => endpoints.column(field));
    const names = this.facts.column('name');
    const [what, how] = [new Dictionary(), new Dictionary()];
    const [whats, hows] = [new Uint32Array(this.size), new Uint32Array(this.size)];
    const text = (column: Column | undefined, at: number) => (column ? valueAt(column, at) : '');
    for (let at = 0; at < this.size; at++) {
      const deviceId = this.#owners[at] ?? 0;
      const port = String(valueAt(names, this.#versions[at] ?? 0));
      const { link, heard, kind } = this.#around(deviceId, port);
      const place = endpoints.atPort(deviceId, port);
      const guests: Guest[] = [];
      for (const row of place) guests.push({ mac: text(macs, row) as string, address: ((text(addresses, row) || []) as string[])[0] ?? '', host: text(hosts, row) as string, maker: text(makers, row) as string, via: text(vias, row) as string });
      const words = pluggedIn(kind, link, heard, guests);
      whats[at] = what.codeOf(words.pluggedIn);
      hows[at] = how.codeOf(words.how);
    }
    this.#columns.set('pluggedIn', { dictionary: what, codes: whats });
    this.#columns.set('how', { dictionary: how, codes: hows });
  }
}

const keyOf = (deviceId: number, nameCode: number): number => deviceId * 2 ** 24 + nameCode;
