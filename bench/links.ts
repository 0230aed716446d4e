import { conclude } from '../src/core/topology/conclude';
import { generateNetwork, usualPlan, type NetworkPlan } from './networks/network';
import { scoreLinks } from './networks/scoreLinks';

/** How right links are on networks of which everything is known, by whether a neighbour protocol tells of them, and how the time grows with the network. */
export function benchLinks(): Record<string, unknown> {
  const run = (more: Partial<NetworkPlan>) => {
    const network = generateNetwork({ ...usualPlan, spanning: 0.9, ...more });
    const started = performance.now();
    const { links } = conclude(network.devices);
    return {
      ...network.counts,
      seconds: Math.round((performance.now() - started) / 10) / 100,
      ...scoreLinks(network, links),
    };
  };
  return {
    'rows 0.9, LLDP 0.7, spanning tree 0.9': [1, 2, 3].map((seed) => run({ seed })),
    'rows 0.9, no LLDP, spanning tree 0.9': run({ speaking: 0 }),
    'rows 0.9, LLDP 0.7, no spanning tree': run({ spanning: 0 }),
    'rows 0.9, neither': run({ speaking: 0, spanning: 0 }),
    'rows 0.7, LLDP 0.7, spanning tree 0.9': run({ rows: 0.7 }),
    growing: [6, 12, 25, 50].map((sites) => ({
      ...run({ sites, switches: 41, machines: 29 }),
      megabytes: Math.round(process.memoryUsage().rss / 1e6),
    })),
  };
}
