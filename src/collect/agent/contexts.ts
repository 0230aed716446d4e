import type { ContextHarvest } from '../../core/estate/harvest';
import { parseBridge, type Bridge } from '../../core/mib/bridge';
import { entityTables, parseContextNames } from '../../core/mib/entity';
import { parseInterfaceAddresses, parseNeighbourAddresses } from '../../core/mib/ip';
import { parseRoutes } from '../../core/mib/routes';
import { Answers } from '../../core/mib/table';
import type { Signature } from '../../core/signatures/signature';
import type { VarbindSource } from '../source';
import type { PartReading } from './partReading';
import { contextTables, type PartQuestions } from './questions';

/** Where an agent says which contexts it has. */
export const logicalEntities: PartQuestions = { tables: [{ entry: entityTables.entLogicalEntry, columns: [8] }] };

interface AskedContext {
  name: string;
  /** the VLAN whose forwarding table the context shows */
  vlan: number | null;
}

const mostContexts = 512;

/** The contexts of a device by its signature: one for each VLAN, or those it lists. */
export function contextNames(
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
export async function readContexts(
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
