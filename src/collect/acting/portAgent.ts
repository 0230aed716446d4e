import type { PortSettings } from '../../core/acting/portAct';
import { approves, notApproved } from '../../core/estate/approval';
import type { Outcome } from '../../core/estate/visit';
import type { Credential, UserCredential } from '../../core/estate/credential';
import { portNames } from '../../core/estate/interpret';
import { poweringOfSockets } from '../../core/estate/poweringOfSockets';
import type { SocketParts } from '../../core/estate/poweringSockets';
import { entityTables, parseAliasMapping, parsePhysical } from '../../core/mib/entity';
import { interfaceTables, parseInterfaces } from '../../core/mib/interfaces';
import { parsePoweringPorts, pethPsePortColumns, powerEthernetTables } from '../../core/mib/powerEthernet';
import { Answers } from '../../core/mib/table';
import { readSystem } from '../agent/readDevice';
import { LiveAgent } from '../snmp/liveAgent';
import type { AgentPlace } from '../snmp/snmpSession';
import type { UdpTransport } from '../snmp/udpTransport';
import { SourceError } from '../source';
import { outcomeOf } from '../survey/outcome';

/** Why nothing can be done to a port, and what to do about it. */
export interface Hindrance {
  reason: string;
  remedy: string;
}

export interface OpenedAgent {
  agent: LiveAgent;
  credential: string;
}

/** Who the agent should be: another box at the address is not acted on. */
export interface ExpectedAgent {
  name: string;
  engineId: string | null;
}

/** The agent at a place with the first credential that it lets in, once it is sure that it is the one that was surveyed. */
export async function openForWriting(
  transport: UdpTransport,
  place: AgentPlace,
  credentials: Credential[],
  expected: ExpectedAgent,
): Promise<OpenedAgent | Hindrance> {
  const faults: Parameters<typeof outcomeOf>[0] = [];
  const users = credentials.filter((one): one is UserCredential => one.kind === 'snmp3');
  const usable = users.filter((credential) => approves(credential, place));
  if (users.length > 0 && usable.length === 0) return hindranceOf(notApproved(users, place));
  for (const credential of usable) {
    const agent = new LiveAgent(transport, place, credential);
    try {
      const system = await readSystem(agent);
      if (!system) {
        faults.push({
          credential: credential.name,
          fault: 'failed',
          message: 'answers, but tells nothing of itself: the system group is hidden',
        });
        continue;
      }
      const another =
        expected.engineId !== null && system.engineId !== null
          ? system.engineId !== expected.engineId
          : system.name !== expected.name;
      if (another)
        return {
          reason: `another device answers there: it calls itself ${system.name || 'nothing'}${system.name === expected.name ? ', with another engine' : ''}`,
          remedy: 'It was replaced or moved since it was surveyed. Survey it first.',
        };
      return { agent, credential: credential.name };
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      faults.push({ credential: credential.name, fault: error.fault, message: error.message });
    }
  }
  return hindranceOf(outcomeOf(faults));
}

const hindranceOf = ({ reason, remedy }: Outcome): Hindrance => ({ reason, remedy });

/** Columns that tell what a port is and what of it can be set. */
const asked = [
  [interfaceTables.ifEntry, [2, 3, 7, 8]],
  [interfaceTables.ifXEntry, [1, 17, 18]],
  [powerEthernetTables.pethPsePortEntry, pethPsePortColumns],
] as const;

/** What tells in which part a socket is: parent, class, position, and of which interface. Null where the agent breaks off: its ports can be switched, its power cannot. */
async function socketParts(agent: LiveAgent): Promise<SocketParts | null> {
  const answers = new Answers();
  try {
    for (const [entry, columns] of [
      [entityTables.entPhysicalEntry, [4, 5, 6]],
      [entityTables.entAliasMappingEntry, [2]],
    ] as const)
      answers.addRows(entry, await agent.columns(entry, columns));
  } catch (error) {
    if (error instanceof SourceError) return null;
    throw error;
  }
  return { rows: parsePhysical(answers), interfaces: parseAliasMapping(answers) };
}

/** How a port is now, found by its name: numbers of ports may be others after a restart. @returns null where there is none of that name @throws SourceError */
export async function readPort(agent: LiveAgent, name: string): Promise<PortSettings | null> {
  const answers = new Answers();
  for (const [entry, columns] of asked) answers.addRows(entry, await agent.columns(entry, columns));
  const interfaces = parseInterfaces(answers);
  const names = portNames(interfaces);
  const row = interfaces.find(({ ifIndex }) => names.get(ifIndex) === name);
  if (!row) return null;
  const ports = parsePoweringPorts(answers);
  const parts = ports.length > 0 ? await socketParts(agent) : null;
  const powering = poweringOfSockets(interfaces, ports, parts ?? undefined).get(row.ifIndex);
  const doubt = powering && parts === null ? 'its parts (ENTITY-MIB) could not be read' : powering?.doubt;
  const { ifIndex, admin, oper, alias } = row;
  return {
    ifIndex,
    admin,
    oper,
    alias,
    power: powering
      ? {
          group: powering.port.group,
          port: powering.port.port,
          enabled: powering.port.enabled,
          state: powering.port.state,
          ...(typeof doubt === 'string' && { doubt }),
        }
      : null,
  };
}
