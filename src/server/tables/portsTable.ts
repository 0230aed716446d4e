import type { NeighbourFacts, PortFacts, PortKind } from '../../core/estate/facts';
import { gather, valueAt, type Column } from '../../core/tables/column';
import { Dictionary } from '../../core/tables/dictionary';
import { orderRows } from '../../core/tables/order';
import type { Db } from '../../store/database';
import type { ThingRow } from '../things/asked';
import type { EndpointsTable } from './endpointsTable';
import { FactVersions } from './factVersions';
import { pluggedIn, powerWords, type Guest } from './pluggedIn';
import type { FarEnd, SurveyContext } from './surveyContext';
import type { ThingTable } from './thingTable';

export const portVersions = (db: Db): FactVersions<PortFacts> =>
  new FactVersions<PortFacts>(db, 'port', {
    index: ({ index }) => index, name: ({ name }) => name, alias: ({ alias }) => alias, description: ({ description }) => description, type: ({ type }) => type, admin: ({ admin }) => admin, oper: ({ oper }) => oper,
    speedBps: ({ speedBps }) => speedBps, duplex: ({ duplex }) => duplex, media: ({ media }) => media, autoNegotiation: ({ autoNegotiation }) => autoNegotiation, mtu: ({ mtu }) => mtu, vlan: ({ vlan }) => vlan,
    taggedVlans: ({ taggedVlans }) => taggedVlans, lag: ({ lag }) => lag, mac: ({ mac }) => mac, addresses: ({ addresses }) => addresses, power: ({ poe }) => powerWords(poe),
  });

/** Ports as of a survey, device by device, in the order of their numbers. */
export class PortsTable implements ThingTable {
  readonly size: number;
  readonly #versions: Uint32Array;
  readonly #owners: Uint32Array;
  readonly #columns = new Map<string, Column>();

  constructor(readonly facts: FactVersions<PortFacts>, readonly context: SurveyContext, readonly endpoints: () => EndpointsTable) {
    const found = facts.asOf(context.survey);
    this.size = found.length;
    const all = facts.owners();
    const order = orderRows(Uint32Array.from(found.keys()), [
      { column: deviceColumn(found.map((version) => all[version] ?? 0), context), kind: 'text', descending: false },
      { column: gather(facts.column('index'), found), kind: 'number', descending: false },
    ]);
    this.#versions = Uint32Array.from(order, (at) => found[at] ?? 0);
    this.#owners = this.#versions.map((version) => all[version] ?? 0);
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
    return Float64Array.from(this.#owners, (owner, at) => owner * 2 ** 24 + (codes[at] ?? 0));
  }

  owners(): Uint32Array {
    return this.#owners;
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    const places = [...wanted];
    return this.facts.contents(places.map((at) => this.#versions[at] ?? 0)).map((content, nth) => this.#row(content, this.#owners[places[nth] ?? 0] ?? 0));
  }

  #row(content: PortFacts, deviceId: number): ThingRow {
    const { link, heard, kind } = this.#around(deviceId, content.name);
    const place = this.endpoints().atPort(deviceId, content.name);
    const endpoints = place
      ? this.endpoints().rows(range(place.first, place.behind)).map(({ mac, vlan, addresses, host, maker, device: on, ownDevice, lastSeen, via }) => ({ mac, vlan, address: (addresses as string[])[0] ?? '', host, maker, device: ownDevice, lastSeen, via, on }))
      : [];
    return {
      id: `${deviceId}:${content.name}`, deviceId, device: this.context.nameOf(deviceId), ...content, voiceVlan: null, poe: content.poe ? { ...content.poe, watts: null } : null, power: powerWords(content.poe),
      lastChangeSeconds: this.context.ageOf(deviceId, content.name), kind: kind ?? 'unused',
      neighbour: link ? { device: link.device, port: link.port, source: link.source } : heard ? { device: heard.systemName || heard.chassisId, port: heard.portId, source: 'lldp' } : null,
      endpoints, ...pluggedIn(kind, link, heard, endpoints as Guest[]),
    };
  }

  #around(deviceId: number, port: string): { link: FarEnd | undefined; heard: NeighbourFacts | undefined; kind: PortKind | undefined } {
    const place = `${deviceId} ${port}`;
    return { link: this.context.farEnds.get(place), heard: this.context.neighbours.get(place), kind: this.context.kinds.get(deviceId)?.[port] };
  }

  #make(field: string): Column {
    if (this.facts.has(field)) return gather(this.facts.column(field), this.#versions);
    const names = this.facts.column('name');
    const ofPort = (value: (deviceId: number, port: string) => unknown): Column => {
      const dictionary = new Dictionary();
      return { dictionary, codes: this.#versions.map((version, at) => dictionary.codeOf(value(this.#owners[at] ?? 0, String(valueAt(names, version))))) };
    };
    switch (field) {
      case 'device': return deviceColumn(this.#owners, this.context);
      case 'kind': return ofPort((deviceId, port) => this.context.kinds.get(deviceId)?.[port] ?? 'unused');
      case 'lastChangeSeconds': return ofPort((deviceId, port) => this.context.ageOf(deviceId, port));
      default: throw new Error(`ports have no column “${field}”`);
    }
  }

  /** What hangs on each port, and how that is known. */
  #plugIn(): void {
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
      if (place) for (let row = place.first; row < place.behind; row++) guests.push({ mac: text(macs, row) as string, address: ((text(addresses, row) || []) as string[])[0] ?? '', host: text(hosts, row) as string, maker: text(makers, row) as string, via: text(vias, row) as string });
      const words = pluggedIn(kind, link, heard, guests);
      whats[at] = what.codeOf(words.pluggedIn);
      hows[at] = how.codeOf(words.how);
    }
    this.#columns.set('pluggedIn', { dictionary: what, codes: whats });
    this.#columns.set('how', { dictionary: how, codes: hows });
  }
}

function deviceColumn(owners: Uint32Array, context: SurveyContext): Column {
  const dictionary = new Dictionary();
  const known = new Map<number, number>();
  return {
    dictionary,
    codes: owners.map((owner) => {
      let code = known.get(owner);
      if (code === undefined) known.set(owner, (code = dictionary.codeOf(context.nameOf(owner))));
      return code;
    }),
  };
}

function* range(first: number, behind: number): Generator<number> {
  for (let at = first; at < behind; at++) yield at;
}
