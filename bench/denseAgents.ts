import { Agent } from '../src/sim/snmp/agent';
import { objectsOf } from './denseObjects';

/**
 * Many dense agents in a process of their own.
 * Usage: node denseAgents COUNT BASE PORT; prints `ready` when all listen, ends with its parent.
 */
const [countText = '300', base = '127.73', portText = '1161'] = process.argv.slice(2);
const count = Number(countText);
const agents = Array.from(
  { length: count },
  (_, at) =>
    new Agent(
      {
        address: `${base}.${(at + 1) >> 8}.${(at + 1) & 255}`,
        port: Number(portText),
        engineId: Buffer.from(`8000e6dd05${(at + 1).toString(16).padStart(8, '0')}`, 'hex'),
        communities: ['bench'],
        users: [],
      },
      objectsOf(at + 1),
    ),
);
// an agent of metal has its answers at hand: the stand-in makes them before it is asked
for (const { objects } of agents)
  for (let next = objects.next([0]); next; next = objects.next(next.oid, (next.index ?? 0) + 1));
for (const agent of agents) await agent.listen();
console.log('ready');
process.stdin.on('end', () => process.exit(0)).resume();
