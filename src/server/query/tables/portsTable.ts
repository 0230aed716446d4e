import type { NeighbourFacts, PortFacts, PortKind } from '../../../core/estate/facts';
import type { LostFrames } from '../../../core/switching/portErrors';
import type { MacTable } from '../../../core/switching/macTable';
import { valueAt, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import type { Db } from '../../../store/base/database';
import type { ThingRow } from '../rows/rowBuilder';
import type { EndpointsTable } from './endpointsTable';
import { FactVersions } from './factVersions';
import { LastGuests } from '../columns/lastGuests';
import { PartsTable } from './partsTable';
import { powerWords, toldWords } from '../../../core/estate/shownFacts';
import { pluggedIn, type Guest } from '../columns/pluggedIn';
import type { FarEnd, SurveyContext } from './surveyContext';

export const portVersions = (db: Db): FactVersions<PortFacts> =>
  new FactVersions<PortFacts>(
    db,
    'port',
    {
      index: ({ index }) => index,
      name: ({ name }) => name,
      alias: ({ alias }) => alias,
      description: ({ description }) => description,
      type: ({ type }) => type,
      admin: ({ admin }) => admin,
      oper: ({ oper }) => oper,
      speedBps: ({ speedBps }) => speedBps,
      duplex: ({ duplex }) => duplex,
      media: ({ media }) => media,
      autoNegotiation: ({ autoNegotiation }) => autoNegotiation,
      transceiver: ({ transceiver }) => transceiver ?? '',
      voiceVlan: ({ voiceVlan }) => voiceVlan ?? null,
      disabledBy: ({ disabledBy }) => disabledBy ?? '',
      access: ({ access }) => access ?? '',
      mtu: ({ mtu }) => mtu,
      vlan: ({ vlan }) => vlan,
      taggedVlans: ({ taggedVlans }) => taggedVlans,
      untaggedVlans: otherUntagged,
      lag: ({ lag }) => lag,
      mac: ({ mac }) => mac,
      addresses: ({ addresses }) => addresses,
      power: ({ poe }) => powerWords(poe),
      stpState: ({ stp }) => stp?.state ?? '',
      stpRole: ({ stp }) => stp?.role ?? '',
      deviceId: (_, deviceId) => deviceId,
    },
    [
      { field: 'deviceId', kind: 'number' },
      { field: 'index', kind: 'number' },
    ],
  );

/** Ports at a step. */
const pluggedAtOnce = 20_000;

/** State changes are counted over so many surveys. */
const surveysCounted = 10;

/** Ports as of a survey, device by device, in the order of their numbers. */
export class PortsTable extends PartsTable<PortFacts> {
  constructor(
    facts: FactVersions<PortFacts>,
    context: SurveyContext,
    readonly endpoints: () => EndpointsTable,
  ) {
    super(facts, context, 'name');
  }

  protected row(content: PortFacts, deviceId: number): ThingRow {
    const { link, heard, kind } = this.#around(deviceId, content.name);
    const watts = this.context.wattsAt(deviceId, content.name);
    const endpoints = this.endpoints()
      .atPort(deviceId, content.name)
      .map((row) => this.endpoints().guest(row));
    return {
      id: `${deviceId}:${content.name}`,
      deviceId,
      device: this.context.nameOf(deviceId),
      ...content,
      transceiver: content.transceiver ?? '',
      voiceVlan: content.voiceVlan ?? null,
      untaggedVlans: otherUntagged(content),
      disabledBy: content.disabledBy ?? '',
      access: content.access ?? '',
      poe: content.poe ? { ...content.poe, watts } : null,
      watts,
      power: powerWords(content.poe),
      lastChangeSeconds: this.context.ageOf(deviceId, content.name),
      kind: kind ?? 'unused',
      neighbour: link
        ? { device: link.device, port: link.port, source: link.source }
        : heard
          ? { device: heard.systemName || heard.chassisId, port: heard.portId, source: 'lldp' }
          : null,
      endpoints,
      ...pluggedIn(kind, link, heard, endpoints),
      machines: endpoints.length,
      farEnd: farEndWords(link, heard),
      neighbourSays: toldWords(heard?.told),
      stpState: content.stp?.state ?? '',
      stpRole: content.stp?.role ?? '',
      stateChanges: this.#stateChangesOf(deviceId, content.name),
      ...lostWords(this.context.lostAt(deviceId, content.name)),
      lastSeen: this.#lastSeenAt(deviceId, content.name),
    };
  }

  #around(
    deviceId: number,
    port: string,
  ): { link: FarEnd | undefined; heard: NeighbourFacts | undefined; kind: PortKind | undefined } {
    const place = `${deviceId} ${port}`;
    return {
      link: this.context.farEnds.get(place),
      heard: this.context.neighbours.get(place),
      kind: this.context.kindOf(deviceId, port),
    };
  }

  protected make(field: string): Column {
    if (field === 'pluggedIn' || field === 'how' || field === 'machines' || field === 'farEnd') {
      const plugging = this.plugging();
      for (let step = plugging.next(); ; step = plugging.next()) if (step.done) return step.value[field];
    }
    const names = this.facts.column('name');
    const owners = this.owners();
    const ofPort = (value: (deviceId: number, port: string) => unknown): Column => {
      const dictionary = new Dictionary();
      return {
        dictionary,
        codes: this.numbers.map((version, at) =>
          dictionary.codeOf(value(owners[at] ?? 0, String(valueAt(names, version)))),
        ),
      };
    };
    switch (field) {
      case 'stateChanges':
        return ofPort((deviceId, port) => this.#stateChangesOf(deviceId, port));
      case 'kind':
        this.context.readKinds();
        return ofPort((deviceId, port) => this.context.kindOf(deviceId, port) ?? 'unused');
      case 'lastChangeSeconds':
        this.context.readMoments();
        return ofPort((deviceId, port) => this.context.ageOf(deviceId, port));
      case 'watts':
        this.context.readLooks();
        return ofPort((deviceId, port) => this.context.wattsAt(deviceId, port));
      case 'neighbourSays':
        return ofPort((deviceId, port) => toldWords(this.#around(deviceId, port).heard?.told));
      case 'lastSeen':
        return ofPort((deviceId, port) => this.#lastSeenAt(deviceId, port));
      case 'errors':
      case 'discards':
        this.context.readLooks();
        return ofPort((deviceId, port) => lostWords(this.context.lostAt(deviceId, port))[field]);
      default:
        throw new Error(`ports have no column “${field}”`);
    }
  }

  #lastGuests: LastGuests | null = null;

  /** When somebody was last plugged in; empty where nobody ever was. */
  #lastSeenAt(deviceId: number, port: string): string {
    const { calendar, survey } = this.context;
    this.#lastGuests ??= new LastGuests(this.endpoints().facts, survey, calendar.before);
    const last = this.#lastGuests.at(deviceId, port);
    return last === null ? '' : calendar.momentOf(last);
  }

  #stateChanges: MacTable | null = null;

  /** How often the state of a port was another one at the last surveys. */
  #stateChangesOf(deviceId: number, port: string): number {
    const { calendar, survey } = this.context;
    this.#stateChanges ??= this.facts.changesOf(
      'oper',
      'name',
      calendar.between(0, survey).at(-1 - surveysCounted) ?? 0,
      survey,
    );
    const code = this.facts.column('name').dictionary.find(port);
    return code === undefined ? 0 : Math.max(0, this.#stateChanges.get(deviceId * 2 ** 24 + code));
  }

  /** What hangs on each port, how many, how that is known, and the port at the other end: some thousand ports at a step, so that other questions are answered in between. */
  *plugging(): Generator<void, Record<'pluggedIn' | 'how' | 'machines' | 'farEnd', Column>> {
    this.context.readKinds();
    const endpoints = this.endpoints();
    const columns: Column[] = [];
    for (const field of ['mac', 'addresses', 'host', 'maker', 'via', 'basis']) {
      columns.push(endpoints.column(field));
      yield;
    }
    const [macs, addresses, hosts, makers, vias, bases] = columns;
    const names = this.facts.column('name');
    const owners = this.owners();
    const [what, how, machines, farEnd] = [new Dictionary(), new Dictionary(), new Dictionary(), new Dictionary()];
    const [whats, hows, counts, ends] = [
      new Uint32Array(this.size),
      new Uint32Array(this.size),
      new Uint32Array(this.size),
      new Uint32Array(this.size),
    ];
    const text = (column: Column | undefined, at: number) => (column ? valueAt(column, at) : '');
    for (let at = 0; at < this.size; at++) {
      if (at % pluggedAtOnce === pluggedAtOnce - 1) yield;
      const deviceId = owners[at] ?? 0;
      const port = String(valueAt(names, this.numbers[at] ?? 0));
      const { link, heard, kind } = this.#around(deviceId, port);
      const place = endpoints.atPort(deviceId, port);
      const guests: Guest[] = [];
      for (const row of place)
        guests.push({
          mac: text(macs, row) as string,
          address: ((text(addresses, row) || []) as string[])[0] ?? '',
          host: text(hosts, row) as string,
          maker: text(makers, row) as string,
          via: text(vias, row) as string,
          basis: text(bases, row) as Guest['basis'],
        });
      const words = pluggedIn(kind, link, heard, guests);
      whats[at] = what.codeOf(words.pluggedIn);
      hows[at] = how.codeOf(words.how);
      counts[at] = machines.codeOf(guests.length);
      ends[at] = farEnd.codeOf(farEndWords(link, heard));
    }
    const all = {
      pluggedIn: { dictionary: what, codes: whats },
      how: { dictionary: how, codes: hows },
      machines: { dictionary: machines, codes: counts },
      farEnd: { dictionary: farEnd, codes: ends },
    };
    for (const [field, column] of Object.entries(all)) this.columns.set(field, column);
    return all;
  }
}

const lostWords = (lost: LostFrames | null): { errors: number | null; discards: number | null } => ({
  errors: lost?.errors ?? null,
  discards: lost?.discards ?? null,
});

/** The port at the other end of a link, or what a neighbour calls it. */
const farEndWords = (link: FarEnd | undefined, heard: NeighbourFacts | undefined): string =>
  link ? `${link.device} ${link.port}` : heard ? `${heard.systemName || heard.chassisId} ${heard.portId}`.trim() : '';

/** VLANs that leave a port untagged beside the one that comes in so. */
const otherUntagged = ({ vlan, untaggedVlans = [] }: PortFacts): number[] =>
  untaggedVlans.filter((other) => other !== vlan);
