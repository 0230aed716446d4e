import { parseActiveAlarms } from '../mib/alarm';
import { parseBgpPeers } from '../mib/bgp';
import { parseBridge } from '../mib/bridge';
import { parseAliasMapping, parsePhysical } from '../mib/entity';
import { parseEntityStates } from '../mib/entityState';
import { parseHost } from '../mib/host';
import { parseInstalled, parseRunning } from '../mib/hostSoftware';
import { parseInterfaces } from '../mib/interfaces';
import { parseInterfaceAddresses, parseNeighbourAddresses } from '../mib/ip';
import { parseIsisNeighbours } from '../mib/isis';
import { parseInterfaceVrfs } from '../mib/l3vpn';
import { parseLldp } from '../mib/lldp';
import { parseOspfNeighbours } from '../mib/ospf';
import { parsePortAccess } from '../mib/portAccess';
import { parseFaultyPowerGroups, parsePowerGroups, parsePoweringPorts } from '../mib/powerEthernet';
import { parsePrinter } from '../mib/printer';
import { parseRoutes } from '../mib/routes';
import { parseSensors } from '../mib/sensor';
import { clockAhead, hrSystemDate } from '../mib/systemDate';
import { Answers, scalar } from '../mib/table';
import { parseConnections, parseListeners } from '../mib/transport';
import { octetsOfValue } from '../mib/varbind';
import { parseUps } from '../mib/ups';
import { parseHypervisor } from '../mib/virtualMachines';
import { parseVirtualRouters } from '../mib/vrrp';
import { moduleMemory, portExtras, privateFacts, readingValues } from '../signatures/privateAnswers';
import type { Reading } from '../signatures/reading';
import type { Signature } from '../signatures/signature';
import type { Harvest, HarvestPart } from './harvest';

const nothing = new Answers();

/** What few devices have: absent where this one has none of it. */
function seldom(of: (part: HarvestPart) => Answers): Partial<Harvest> {
  const [ups, printer] = [parseUps(of('ups')), parsePrinter(of('printer'))];
  const isisNeighbours = parseIsisNeighbours(of('routing'));
  const virtualRouters = parseVirtualRouters(of('standby'));
  const portAccess = parsePortAccess(of('portAccess'));
  const interfaceVrfs = parseInterfaceVrfs(of('addresses'));
  const activeAlarms = parseActiveAlarms(of('alarms'));
  const faultyPowerGroups = parseFaultyPowerGroups(of('power'));
  return {
    ...(isisNeighbours.length > 0 && { isisNeighbours }),
    ...(virtualRouters.length > 0 && { virtualRouters }),
    ...(portAccess.size > 0 && { portAccess }),
    ...(interfaceVrfs.size > 0 && { interfaceVrfs }),
    ...(activeAlarms.length > 0 && { activeAlarms }),
    ...(faultyPowerGroups.length > 0 && { faultyPowerGroups }),
    ...(ups && { ups }),
    ...(printer && { printer }),
  };
}

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
    ...seldom(of),
    private: privateFacts(Object.entries(signature?.objects ?? {}), of('private')),
    moduleMemory: moduleMemory(signature, of('private')),
    ...portExtras(signature, of('private')),
    readings: readingValues([...(signature?.readings ?? []), ...readings], of('private')),
  };
}
