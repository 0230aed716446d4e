import type { Harvest, HarvestPart, PartState, PrivateFacts } from '../core/estate/harvest';
import { bridgeTables, parseBridge } from '../core/mib/bridge';
import { entityTables, entPhysicalColumns, parseAliasMapping, parsePhysical } from '../core/mib/entity';
import { hostTables, parseHost } from '../core/mib/host';
import { ifColumns, ifXColumns, interfaceTables, parseInterfaces } from '../core/mib/interfaces';
import { ipTables, parseInterfaceAddresses, parseNeighbourAddresses } from '../core/mib/ip';
import { lldpTables, parseLldp } from '../core/mib/lldp';
import { parsePoweringPorts, pethPsePortColumns, powerEthernetTables } from '../core/mib/powerEthernet';
import { parseSystem, systemObjects, type SystemGroup } from '../core/mib/system';
import { numberOf, textOf, type Varbind } from '../core/mib/varbind';
import { chooseSignature, type Signature } from '../core/signatures/signature';
import { SourceError, type VarbindSource } from './source';

type Question = { get: string[] } | { entry: string; columns: readonly number[] };

/** What each part asks. Tables of one part are asked one after the other; parts run side by side. */
const questions: Record<Exclude<HarvestPart, 'system' | 'private'>, Question[]> = {
  interfaces: [
    { entry: interfaceTables.ifEntry, columns: ifColumns },
    { entry: interfaceTables.ifXEntry, columns: ifXColumns },
    { entry: interfaceTables.dot3StatsEntry, columns: [19] },
    { entry: interfaceTables.dot3adAggPortEntry, columns: [13] },
  ],
  modules: [
    { entry: entityTables.entPhysicalEntry, columns: entPhysicalColumns },
    { entry: entityTables.entAliasMappingEntry, columns: [2] },
  ],
  addresses: [
    { entry: ipTables.ipAddrEntry, columns: [2, 3] },
    { entry: ipTables.ipAddressEntry, columns: [3, 4, 5] },
  ],
  neighbourAddresses: [
    { entry: ipTables.ipNetToMediaEntry, columns: [2, 4] },
    { entry: ipTables.ipNetToPhysicalEntry, columns: [4, 6] },
  ],
  bridge: [
    { get: [bridgeTables.dot1dBaseBridgeAddress, bridgeTables.dot1dStpDesignatedRoot, bridgeTables.dot1dStpRootPort].map((object) => `${object}.0`) },
    { entry: bridgeTables.dot1dBasePortEntry, columns: [2] },
    { entry: bridgeTables.dot1qVlanCurrentEntry, columns: [3, 4, 5] },
    { entry: bridgeTables.dot1qVlanStaticName, columns: [1] },
    { entry: bridgeTables.dot1qPortVlanEntry, columns: [1] },
    { entry: bridgeTables.dot1dStpPortEntry, columns: [3, 8, 9] },
    { entry: bridgeTables.dot1qTpFdbEntry, columns: [2, 3] },
    { entry: bridgeTables.dot1dTpFdbEntry, columns: [2, 3] },
  ],
  lldp: [
    { get: [`${lldpTables.lldpLocChassisIdSubtype}.0`, `${lldpTables.lldpLocChassisId}.0`] },
    { entry: lldpTables.lldpLocPortEntry, columns: [2, 3, 4] },
    { entry: lldpTables.lldpRemEntry, columns: [4, 5, 6, 7, 8, 9, 10, 11, 12] },
    { entry: lldpTables.lldpRemManAddrEntry, columns: [3] },
  ],
  power: [{ entry: powerEthernetTables.pethPsePortEntry, columns: pethPsePortColumns }],
  host: [
    { get: [`${hostTables.hrMemorySize}.0`] },
    { entry: hostTables.hrStorageEntry, columns: [2, 3, 4, 5, 6] },
    { entry: hostTables.hrDeviceEntry, columns: [2, 3] },
  ],
};

/** The tables that a non-bridge or non-speaker need not be asked for, by the first question that came back empty. */
const gated: Partial<Record<HarvestPart, (soFar: Varbind[], at: number) => boolean>> = {
  bridge: (soFar, at) => at >= 2 && soFar.length === 0,
  lldp: (soFar, at) => at >= 2 && soFar.length === 0,
};

export interface ReadOptions {
  address: string;
  credential: string;
  signatures: Signature[];
  /** parts asked at the same time */
  inFlight: number;
  now: () => number;
  cancelled: () => boolean;
}

/** The first question: who are you? Decides whether there is anything to read. @throws SourceError */
export async function readSystem(source: VarbindSource): Promise<SystemGroup | null> {
  return parseSystem(await source.get(Object.values(systemObjects).map((object) => `${object}.0`)));
}

/**
 * Asks one device everything, part by part. A part that breaks off is named as failed with what it gave so far left in
 * the harvest; the others go on. After two parts without any answer the rest is not asked any more.
 */
export async function readDevice(source: VarbindSource, system: SystemGroup, options: ReadOptions): Promise<Harvest> {
  const signature = chooseSignature(options.signatures, system);
  const parts: Harvest['parts'] = { system: { state: 'whole', seconds: 0 } };
  const answers = new Map<HarvestPart, Varbind[]>();
  let silences = 0;

  const readPart = async (part: HarvestPart, list: Question[]): Promise<void> => {
    const started = options.now();
    const found: Varbind[] = [];
    let state: PartState['state'] = 'whole';
    let reason = '';
    for (const [at, question] of list.entries()) {
      if (silences >= 2) {
        state = 'failed';
        reason = 'not asked: the device had stopped answering';
        break;
      }
      if (options.cancelled()) {
        state = 'failed';
        reason = 'not asked: the survey was cancelled';
        break;
      }
      if (gated[part]?.(found, at)) break;
      try {
        append(found, 'get' in question ? await source.get(question.get) : await source.columns(question.entry, question.columns));
      } catch (error) {
        if (!(error instanceof SourceError)) throw error;
        append(found, error.partial);
        if (error.fault === 'no answer') silences++;
        state = 'failed';
        reason = error.fault === 'no answer' ? 'the device stopped answering' : error.message;
        break;
      }
    }
    const seconds = (options.now() - started) / 1000;
    parts[part] = state === 'whole' ? { state, seconds } : { state, reason, seconds };
    answers.set(part, found);
  };

  const privateObjects = Object.entries(signature?.objects ?? {});
  const work = Object.entries(questions) as [HarvestPart, Question[]][];
  if (privateObjects.length > 0) work.unshift(['private', [{ get: privateObjects.map(([, { oid }]) => oid) }]]);
  await inParallel(work, options.inFlight, ([part, list]) => readPart(part, list));

  const of = (part: HarvestPart) => answers.get(part) ?? [];
  return {
    address: options.address,
    credential: options.credential,
    signature: signature?.id ?? '',
    system,
    interfaces: parseInterfaces(of('interfaces')),
    modules: parsePhysical(of('modules')),
    moduleInterfaces: parseAliasMapping(of('modules')),
    addresses: parseInterfaceAddresses(of('addresses')),
    neighbourAddresses: parseNeighbourAddresses(of('neighbourAddresses')),
    bridge: parseBridge(of('bridge')),
    lldp: parseLldp(of('lldp')),
    host: parseHost(of('host')),
    poweringPorts: parsePoweringPorts(of('power')),
    private: privateFacts(privateObjects, of('private')),
    parts,
  };
}

/** A table may have more rows than a call may have arguments. */
function append(found: Varbind[], more: Varbind[]): void {
  for (const varbind of more) found.push(varbind);
}

function privateFacts(objects: [string, { oid: string; multiplyBy?: number }][], varbinds: Varbind[]): PrivateFacts {
  const byOid = new Map(varbinds.map(({ oid, value }) => [oid, value]));
  return Object.fromEntries(
    objects.flatMap(([name, { oid, multiplyBy }]) => {
      const value = byOid.get(oid);
      const number = numberOf(value);
      const fact = number === undefined ? textOf(value) : number * (multiplyBy ?? 1);
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
