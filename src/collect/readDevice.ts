import { notAskedWords, stoppedWords } from '../core/estate/gap';
import type { ReadingValue } from '../core/estate/facts';
import type { ContextHarvest, Harvest, HarvestPart, PrivateFacts } from '../core/estate/harvest';
import { parseBgpPeers } from '../core/mib/bgp';
import { parseBridge, type Bridge } from '../core/mib/bridge';
import { entityTables, parseAliasMapping, parseContextNames, parsePhysical } from '../core/mib/entity';
import { parseEntityStates } from '../core/mib/entityState';
import { parseHost } from '../core/mib/host';
import { parseInstalled, parseRunning } from '../core/mib/hostSoftware';
import { parseInterfaces } from '../core/mib/interfaces';
import { parseInterfaceAddresses, parseNeighbourAddresses } from '../core/mib/ip';
import { parseLldp } from '../core/mib/lldp';
import { parseOspfNeighbours } from '../core/mib/ospf';
import { parsePowerGroups, parsePoweringPorts } from '../core/mib/powerEthernet';
import { parseRoutes, routeCount } from '../core/mib/routes';
import { parseSensors } from '../core/mib/sensor';
import { clockAhead, hrSystemDate } from '../core/mib/systemDate';
import { parseSystem, systemObjects, type SystemGroup } from '../core/mib/system';
import { parseConnections, parseListeners } from '../core/mib/transport';
import { Answers, scalar, tableRows, type TableRows } from '../core/mib/table';
import { numberOf, octetsOfValue, textOf, type Varbind } from '../core/mib/varbind';
import { parseHypervisor } from '../core/mib/virtualMachines';
import { readingValue, withoutNamesakes, type Reading } from '../core/signatures/reading';
import { chooseSignature, type ExtraObject, type Signature } from '../core/signatures/signature';
import { contextTables, mostRoutes, questions, type PartQuestions, type TableQuestion } from './questions';
import { SourceError, type VarbindSource } from './source';

export interface ReadOptions {
  address: string;
  credential: string;
  signatures: Signature[];
  /** parts asked at the same time */
  inFlight: number;
  now: () => number;
  /** our clock, milliseconds since the epoch, to hold the device's against; absent where its answers are of another time */
  wallClock?: () => number;
  cancelled: () => boolean;
  /** values that somebody wants beside what the signature reads */
  readings?: Reading[];
}

/** The first question: who are you? Decides whether there is anything to read. @throws SourceError */
export async function readSystem(source: VarbindSource): Promise<SystemGroup | null> {
  return parseSystem(await source.get(Object.values(systemObjects).map((object) => `${object}.0`)));
}

/**
 * Asks one device everything, part by part: first all single objects with one question and with another which tables there are, then the
 * tables. A part that breaks off is named as failed with what it gave so far left in the harvest; the others go on. After two
 * parts without any answer the rest is not asked any more.
 */
export async function readDevice(source: VarbindSource, system: SystemGroup, options: ReadOptions): Promise<Harvest> {
  const first = chooseSignature(options.signatures, system);
  const reading = new PartReading(source, options);
  const work: [HarvestPart, PartQuestions][] = Object.entries(questions) as [HarvestPart, PartQuestions][];
  const own = privateQuestions(first, options.readings);
  if (own) work.unshift(['private', own]);
  if (first?.contexts?.of === 'logical entities') work.push(['contexts', logicalEntities]);
  await reading.prepare(work.map(([, asked]) => asked));
  const preparedAt = options.wallClock?.();
  await inParallel(work, options.inFlight, ([part, asked]) => reading.read(part, asked));
  // what the chassis calls itself may name a better signature than was known before it was read
  const modules = parsePhysical(reading.answers.get('modules') ?? nothing);
  const signature =
    chooseSignature(
      options.signatures,
      system,
      modules.find((row) => row.class === 'chassis') ?? { model: '', vendor: '' },
    ) ?? first;
  if (signature !== first) {
    reading.forgetPrepared();
    const late = privateQuestions(signature, options.readings);
    if (late) await reading.read('private', late);
    if (signature?.contexts?.of === 'logical entities') await reading.read('contexts', logicalEntities);
  }
  const of = (part: HarvestPart) => reading.answers.get(part) ?? nothing;
  const bridge = parseBridge(of('bridge'));
  const contexts = signature?.contexts
    ? await readContexts(source, contextNames(signature.contexts, of('contexts'), bridge), reading)
    : [];
  return {
    address: options.address,
    credential: options.credential,
    signature: signature?.id ?? '',
    system,
    interfaces: parseInterfaces(of('interfaces')),
    modules,
    moduleInterfaces: parseAliasMapping(of('modules')),
    sensors: parseSensors(of('sensors')),
    moduleStates: parseEntityStates(of('sensors')),
    addresses: parseInterfaceAddresses(of('addresses')),
    neighbourAddresses: parseNeighbourAddresses(of('neighbourAddresses')),
    bridge,
    lldp: parseLldp(of('lldp')),
    host: parseHost(of('host')),
    clockAheadSeconds:
      preparedAt === undefined ? null : clockAhead(octetsOfValue(scalar(hrSystemDate, of('host'))), preparedAt),
    poweringPorts: parsePoweringPorts(of('power')),
    powerGroups: parsePowerGroups(of('power')),
    running: parseRunning(of('services')),
    listeners: parseListeners(of('services')),
    connections: parseConnections(of('services')),
    installed: parseInstalled(of('software')),
    routes: parseRoutes(of('routing')),
    ...((routeCount(of('routing')) ?? 0) > mostRoutes && { routesLeft: routeCount(of('routing')) ?? 0 }),
    bgpPeers: parseBgpPeers(of('routing')),
    ospfNeighbours: parseOspfNeighbours(of('routing')),
    hypervisor: parseHypervisor(of('machines')),
    contexts,
    private: privateFacts(Object.entries(signature?.objects ?? {}), of('private')),
    moduleMemory: moduleMemory(signature, of('private')),
    ...portExtras(signature, of('private')),
    readings: readingValues([...(signature?.readings ?? []), ...(options.readings ?? [])], of('private')),
    parts: reading.parts,
  };
}

const nothing = new Answers();
const logicalEntities: PartQuestions = { tables: [{ entry: entityTables.entLogicalEntry, columns: [8] }] };

/** What a signature and a person want beside the standards; null where that is nothing. */
function privateQuestions(signature: Signature | null, readings: Reading[] = []): PartQuestions | null {
  const instances = [...Object.values(signature?.objects ?? {}), ...(signature?.readings ?? []), ...readings].flatMap(
    ({ oid }) => oid ?? [],
  );
  const tables = [
    signature?.moduleMemory?.column,
    signature?.ports?.disabledBy?.column,
    signature?.ports?.watts?.column,
  ].flatMap((column) => (column === undefined ? [] : [columnQuestion(column)]));
  return instances.length > 0 || tables.length > 0 ? { instances, tables } : null;
}

/** One device's parts as they are asked, with what stops them. */
class PartReading {
  readonly parts: Harvest['parts'] = { system: { state: 'whole', seconds: 0 } };
  readonly answers = new Map<HarvestPart, Answers>();
  #silences = 0;
  /** what all parts ask by name, once it was asked together; null where each part must ask its own */
  #instances: Varbind[] | null = null;
  /** tables that hold something; null where that is not known */
  #present: Set<string> | null = null;

  constructor(
    readonly source: VarbindSource,
    readonly options: ReadOptions,
  ) {}

  /** The two questions that spare most of the others. Where one fails, the parts find out for themselves. */
  async prepare(all: PartQuestions[]): Promise<void> {
    if (this.options.cancelled()) return;
    const instances = all.flatMap(({ instances: own = [] }) => own);
    const tables = all.flatMap(({ tables: own }) => own.map(({ entry }) => entry));
    const attempt = async <T>(ask: Promise<T>): Promise<T | null> => {
      try {
        return await ask;
      } catch (error) {
        if (!(error instanceof SourceError)) throw error;
        if (error.fault === 'no answer' || error.fault === 'mute') this.#silences++;
        return null;
      }
    };
    [this.#instances, this.#present] = await Promise.all([
      attempt(this.source.get(instances)),
      attempt(this.source.present(tables)),
    ]);
  }

  /** What is asked from now on was not thought of when everything was prepared. */
  forgetPrepared(): void {
    this.#instances = null;
    this.#present = null;
  }

  async read(part: HarvestPart, { instances = [], tables }: PartQuestions): Promise<void> {
    const started = this.options.now();
    const found = new Answers();
    let reason = '';
    if (instances.length > 0) reason = await this.#ask(async () => found.addObjects(await this.#own(instances)));
    for (const { entry, columns, when } of tables) {
      if (reason) break;
      if ((this.#present && !this.#present.has(entry)) || (when && !when(found))) continue;
      reason = await this.#askTable(found, this.source, entry, columns);
    }
    this.end(part, found, reason, started);
  }

  end(part: HarvestPart, found: Answers, reason: string, started: number): void {
    const seconds = (this.options.now() - started) / 1000;
    this.parts[part] = reason ? { state: 'failed', reason, seconds } : { state: 'whole', seconds };
    this.answers.set(part, found);
  }

  #own(instances: string[]): Promise<Varbind[]> {
    return this.#instances
      ? Promise.resolve(this.#instances.filter(({ oid }) => instances.includes(oid)))
      : this.source.get(instances);
  }

  /** What was read of a table before it broke off is kept. */
  #askTable(found: Answers, source: VarbindSource, entry: string, columns: readonly number[]): Promise<string> {
    return this.#ask(
      async () => found.addRows(entry, await source.columns(entry, columns)),
      (partial) => found.addRows(entry, partial),
    );
  }

  /** Says why a question broke off, if it did. */
  async #ask(ask: () => Promise<void>, onPartial: (rows: TableRows) => void = () => undefined): Promise<string> {
    if (this.#silences >= 2) return notAskedWords;
    if (this.options.cancelled()) return 'not asked: the survey was cancelled';
    try {
      await ask();
      return '';
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      onPartial(error.partial);
      if (error.fault === 'no answer' || error.fault === 'mute') this.#silences++;
      return error.fault === 'no answer' ? stoppedWords : error.message;
    }
  }

  /** The tables of one question list from another source, for a part that is put together from several. */
  async tablesOf(source: VarbindSource, tables: TableQuestion[]): Promise<{ found: Answers; reason: string }> {
    const found = new Answers();
    let present: Set<string> | null = null;
    let reason = await this.#ask(async () => {
      present = await source.present(tables.map(({ entry }) => entry));
    });
    for (const { entry, columns, when } of tables) {
      if (reason) break;
      if ((present && !(present as Set<string>).has(entry)) || (when && !when(found))) continue;
      reason = await this.#askTable(found, source, entry, columns);
    }
    return { found, reason };
  }

  now(): number {
    return this.options.now();
  }
}

interface AskedContext {
  name: string;
  /** the VLAN whose forwarding table the context shows */
  vlan: number | null;
}

const mostContexts = 512;

function contextNames(
  contexts: NonNullable<Signature['contexts']>,
  listed: Answers,
  bridge: Bridge | null,
): AskedContext[] {
  const all =
    contexts.of === 'vlans'
      ? (bridge?.vlans ?? []).map(({ vlan }) => ({ name: contexts.name.replaceAll('{vlan}', String(vlan)), vlan }))
      : parseContextNames(listed).map((name) => ({ name, vlan: null }));
  return all.slice(0, mostContexts);
}

/** The contexts one after the other; the first that breaks off is named and ends them. */
async function readContexts(
  source: VarbindSource,
  names: AskedContext[],
  reading: PartReading,
): Promise<ContextHarvest[]> {
  const before = reading.parts.contexts;
  if (before?.state === 'failed') return [];
  const started = reading.now();
  const harvests: ContextHarvest[] = [];
  let failure = '';
  for (const { name, vlan } of names) {
    const inside = source.inContext(name);
    if (!inside || failure) break;
    const { found, reason } = await reading.tablesOf(inside, contextTables);
    const bridge = parseBridge(found);
    harvests.push({
      context: vlan === null ? name : '',
      addresses: vlan === null ? parseInterfaceAddresses(found) : [],
      neighbourAddresses: vlan === null ? parseNeighbourAddresses(found) : [],
      routes: vlan === null ? parseRoutes(found) : [],
      forwarding: (bridge?.forwarding ?? []).map((row) => ({ ...row, vlan: vlan ?? row.vlan })),
      ifIndexByBridgePort: bridge?.ifIndexByBridgePort ?? new Map<number, number>(),
    });
    if (reason) failure = `context ${name}: ${reason}`;
  }
  reading.end('contexts', new Answers(), failure, started);
  return harvests;
}

/** A column by its whole name, as a question for one column of its entry. */
function columnQuestion(column: string): TableQuestion {
  const at = column.lastIndexOf('.');
  return { entry: column.slice(0, at), columns: [Number(column.slice(at + 1))] };
}

function readingValues(readings: Reading[], { objects: byOid }: Answers): ReadingValue[] {
  return withoutNamesakes(readings).flatMap((reading): ReadingValue[] => {
    const answered = reading.oid === undefined ? undefined : byOid.get(reading.oid);
    const value = readingValue(reading, numberOf(answered) ?? textOf(answered));
    return value ? [value] : [];
  });
}

/** What a signature reads of ports beside the standards. */
function portExtras(signature: Signature | null, answers: Answers): Pick<Harvest, 'portsDisabled' | 'portWatts'> {
  const { disabledBy, watts } = signature?.ports ?? {};
  return {
    ...(disabledBy && {
      portsDisabled: new Map(
        privateColumn(disabledBy.column, answers).flatMap(([index, value]) =>
          disabledBy.values[String(value)] === undefined ? [] : [[index, disabledBy.values[String(value)] ?? '']],
        ),
      ),
    }),
    ...(watts && {
      portWatts: new Map(
        privateColumn(watts.column, answers).flatMap(([index, value]) =>
          value > 0 ? [[index, Math.round(value * (watts.multiplyBy ?? 1) * 10) / 10]] : [],
        ),
      ),
    }),
  };
}

function moduleMemory(signature: Signature | null, answers: Answers): Map<number, number> {
  if (!signature?.moduleMemory) return new Map();
  const { column, multiplyBy = 1 } = signature.moduleMemory;
  return new Map(privateColumn(column, answers).map(([index, number]) => [index, number * multiplyBy]));
}

/** Numbers of a private column that is indexed by one number. */
function privateColumn(column: string, answers: Answers): [index: number, number: number][] {
  const { entry, columns } = columnQuestion(column);
  return tableRows(entry, answers).flatMap(({ index, cells }): [number, number][] => {
    const number = numberOf(cells.get(columns[0] ?? 0));
    return index.length === 1 && number !== undefined ? [[index[0] ?? 0, number]] : [];
  });
}

function privateFacts(objects: [string, ExtraObject][], { objects: byOid }: Answers): PrivateFacts {
  return Object.fromEntries(
    objects.flatMap(([name, { oid, multiplyBy, values }]) => {
      const value = byOid.get(oid);
      const number = numberOf(value);
      const fact = values
        ? (values[textOf(value) ?? ''] ?? textOf(value))
        : number === undefined
          ? textOf(value)
          : number * (multiplyBy ?? 1);
      return fact === undefined ? [] : [[name, fact]];
    }),
  );
}

/** Runs `work` over the items, at most `width` at once. */
export async function inParallel<T>(items: T[], width: number, work: (item: T) => Promise<void>): Promise<void> {
  let next = 0;
  const lane = async () => {
    while (next < items.length) {
      const item = items[next++];
      if (item !== undefined) await work(item);
    }
  };
  await Promise.all(Array.from({ length: Math.max(1, Math.min(width, items.length)) }, lane));
}
