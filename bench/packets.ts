import { freeUdpPort, home } from '../e2e/support/program';
import { questions } from '../src/collect/agent/questions';
import { readDevice, readSystem } from '../src/collect/agent/readDevice';
import { LiveAgent } from '../src/collect/snmp/liveAgent';
import { UdpTransport } from '../src/collect/snmp/udpTransport';
import { Agent } from '../src/sim/snmp/agent';
import { ObjectTree } from '../src/sim/snmp/objects';
import { readSignatures } from '../src/store/programFiles';
import { instancesOf } from './denseObjects';

/** Octets of variables that the stand-in puts into one answer. */
const datagram = 1400;

class CountingAgent extends Agent {
  requests = 0;
  override answer(message: Buffer): Buffer | null {
    this.requests++;
    return super.answer(message);
  }
}

/**
 * Questions to one dense agent against the fewest that could bring the same: one for the system group, one for all single objects, one GETNEXT that tells which tables
 * there are, and for each table as many as its columns fill datagrams.
 */
export async function benchPackets(): Promise<{ asked: number; fewest: number; ratio: number }> {
  const port = await freeUdpPort();
  const address = '127.204.1.1';
  const instances = instancesOf(1);
  const agent = new CountingAgent(
    { address, port, engineId: Buffer.from('8000e6dd0500000001', 'hex'), communities: ['bench'], users: [] },
    new ObjectTree(instances),
  );
  await agent.listen();
  const transport = new UdpTransport();
  const source = new LiveAgent(
    transport,
    { address, port, timeoutMs: 1000, retries: 0 },
    { name: 'bench', kind: 'snmp2c', community: 'bench' },
  );
  const system = await readSystem(source);
  if (!system) throw new Error('the agent keeps still');
  await readDevice(source, system, {
    address,
    credential: 'bench',
    signatures: readSignatures(home),
    inFlight: 2,
    now: () => performance.now(),
    cancelled: () => false,
  });
  transport.close();
  agent.close();
  const tree = new ObjectTree(instances);
  const octetsBelow = (column: string) =>
    instances.reduce(
      (sum, { oid }) => (`${oid.join('.')}`.startsWith(`${column}.`) ? sum + encodedOctets(tree, oid) : sum),
      0,
    );
  const entries = Object.values(questions).flatMap(({ tables }) => tables);
  const fewest =
    3 +
    entries.reduce(
      (sum, { entry, columns }) =>
        sum + Math.ceil(columns.reduce((octets, column) => octets + octetsBelow(`${entry}.${column}`), 0) / datagram),
      0,
    );
  return { asked: agent.requests, fewest, ratio: Math.round((agent.requests / fewest) * 100) / 100 };
}

/** As the stand-in itself encodes the instance. */
function encodedOctets(tree: ObjectTree, oid: number[]): number {
  const found = tree.next([...oid.slice(0, -1), (oid.at(-1) ?? 0) - 1, 4_294_967_295]);
  return found?.varbind?.length ?? 0;
}
