import { parseBgpPeers } from '../mib/bgp';
import { parseBridge } from '../mib/bridge';
import { parseAliasMapping, parsePhysical } from '../mib/entity';
import { parseEntityStates } from '../mib/entityState';
import { parseHost } from '../mib/host';
import { parseInstalled, parseRunning } from '../mib/hostSoftware';
import { parseInterfaces } from '../mib/interfaces';
import { parseInterfaceAddresses, parseNeighbourAddresses } from '../mib/ip';
import { parseLldp } from '../mib/lldp';
import { parseOspfNeighbours } from '../mib/ospf';
import { parsePowerGroups, parsePoweringPorts } from '../mib/powerEthernet';
import { parseRoutes } from '../mib/routes';
import { parseSensors } from '../mib/sensor';
import { clockAhead, hrSystemDate } from '../mib/systemDate';
import { Answers, scalar } from '../mib/table';
import { parseConnections, parseListeners } from '../mib/transport';
import { octetsOfValue } from '../mib/varbind';
import { parseHypervisor } from '../mib/virtualMachines';
import { moduleMemory, portExtras, privateFacts, readingValues } from '../signatures/privateAnswers';
import type { Reading } from '../signatures/reading';
import type { Signature } from '../signatures/signature';
import type { Harvest, HarvestPart } from './harvest';

const nothing = new Answers();

/** What the answers of an agent say, part by part. */
export type AnswersOfParts = ReadonlyMap<HarvestPart, Answers>;

/**
 * The part of a harvest that follows from the answers alone. A part that was not asked is as empty as one that answered nothing.
 * @param readings what somebody wants beside what the signature reads
 * @param askedAt our clock as the device was asked for its own, milliseconds since the epoch; null where its answers are of another time
 */
export function harvestOfAnswers(
  answers: AnswersOfParts,
  signature: Signature | null,
  readings: Reading[],
  askedAt: number | null,
): Omit<Harvest, 'address' | 'credential' | 'signature' | 'system' | 'contexts' | 'parts'> {
  const of = (part: HarvestPart) => answers.get(part) ?? nothing;
  return {
    interfaces: parseInterfaces(of('interfaces')),
    modules: parsePhysical(of('modules')),
    moduleInterfaces: parseAliasMapping(of('modules')),
    sensors: parseSensors(of('sensors')),
    moduleStates: parseEntityStates(of('sensors')),
    addresses: parseInterfaceAddresses(of('addresses')),
    neighbourAddresses: parseNeighbourAddresses(of('neighbourAddresses')),
    bridge: parseBridge(of('bridge')),
    lldp: parseLldp(of('lldp')),
    host: parseHost(of('host')),
    clockAheadSeconds: askedAt === null ? null : clockAhead(octetsOfValue(scalar(hrSystemDate, of('host'))), askedAt),
    poweringPorts: parsePoweringPorts(of('power')),
    powerGroups: parsePowerGroups(of('power')),
    running: parseRunning(of('services')),
    listeners: parseListeners(of('services')),
    connections: parseConnections(of('services')),
    installed: parseInstalled(of('software')),
    routes: parseRoutes(of('routing')),
    bgpPeers: parseBgpPeers(of('routing')),
    ospfNeighbours: parseOspfNeighbours(of('routing')),
    hypervisor: parseHypervisor(of('machines')),
    private: privateFacts(Object.entries(signature?.objects ?? {}), of('private')),
    moduleMemory: moduleMemory(signature, of('private')),
    ...portExtras(signature, of('private')),
    readings: readingValues([...(signature?.readings ?? []), ...readings], of('private')),
  };
}
