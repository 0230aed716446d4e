import { conclude } from '../src/core/topology/conclude';
import { macNumber } from '../src/core/values/mac';
import type { Earlier } from '../src/core/switching/settled';
import { generateNetwork, usualPlan, type NetworkPlan } from './networks/network';
import { scorePlacement } from './networks/score';

/** How right placements are on networks of which everything is known, and how long two thousand switches take. */
export function benchPlacement(): Record<string, unknown> {
  const run = (more: Partial<NetworkPlan>, earlier?: Earlier) => {
    const network = generateNetwork({ ...usualPlan, ...more });
    const started = performance.now();
    const all = [...conclude(network.devices, earlier).attachments];
    const seconds = Math.round((performance.now() - started) / 10) / 100;
    return { found: all, told: { ...network.counts, ...scorePlacement(network, all), seconds } };
  };
  /** The same network looked at once and again: what was found is known the next time. */
  const looks = (more: Partial<NetworkPlan>, count: number) => {
    const told: unknown[] = [];
    let known = new Map<number, { deviceId: number; port: string }>();
    for (let look = 1; look <= count; look++) {
      const before = known;
      const { found, told: score } = run({ ...more, look }, (mac) => before.get(mac) ?? null);
      known = new Map([...known, ...found.flatMap(({ mac, deviceId, port }) => (deviceId === null || port === null ? [] : [[macNumber(mac) ?? 0, { deviceId, port }] as const]))]);
      told.push({ look, ...score });
    }
    return told;
  };
  return {
    'rows 0.9, LLDP 0.7': [1, 2, 3].map((seed) => looks({ seed }, 3)),
    'rows 0.9, no LLDP': looks({ speaking: 0 }, 2),
    'rows 0.7, LLDP 0.7': looks({ rows: 0.7 }, 3),
    'all rows, all LLDP': looks({ rows: 1, speaking: 1 }, 1),
    // the second is what a survey costs in which little changed: conclusions are drawn from all tables again
    'two thousand switches': { looks: looks({ sites: 50, switches: 41, machines: 29 }, 2), megabytesWithTheNetwork: Math.round(process.memoryUsage().rss / 1e6) },
  };
}
