import { conclude } from '../src/core/topology/conclude';
import { DeviceIndex } from '../src/core/topology/deviceIndex';
import { macNumber } from '../src/core/values/mac';
import { place, type AttachmentFacts } from '../src/core/switching/placement';
import type { Earlier } from '../src/core/switching/settled';
import { listenAgain } from './networks/listenAgain';
import { generateNetwork, usualPlan, type NetworkPlan } from './networks/network';
import { scorePlacement } from './networks/score';

/** How right placements are on networks of which everything is known, and how long two thousand switches take. */
export function benchPlacement(): Record<string, unknown> {
  const concluded = (devices: Parameters<typeof conclude>[0], earlier: Earlier) => {
    const started = performance.now();
    const found = [...conclude(devices, earlier).attachments];
    return { found, seconds: Math.round((performance.now() - started) / 10) / 100 };
  };
  /** A survey: conclusions from what the tables say, then switches are asked once more for machines that they ought to list, and conclusions from both. */
  const survey = (plan: NetworkPlan, earlier: Earlier) => {
    const network = generateNetwork(plan);
    const first = concluded(network.devices, earlier);
    const { devices, asked, heard } = listenAgain(plan, network, first.found);
    const second = concluded(devices, earlier);
    const { precision, recall } = scorePlacement(network, first.found);
    return {
      found: second.found,
      told: {
        ...network.counts,
        ...scorePlacement(network, second.found),
        seconds: second.seconds,
        fromOneReading: { precision, recall, seconds: first.seconds },
        askedAgain: { asked, heard },
      },
    };
  };
  /** The same network looked at once and again: what was found is known the next time. */
  const looks = (more: Partial<NetworkPlan>, count: number) => {
    const told: unknown[] = [];
    let known = new Map<number, { deviceId: number; port: string }>();
    for (let look = 1; look <= count; look++) {
      const before = known;
      const { found, told: score } = survey({ ...usualPlan, ...more, look }, (mac) => before.get(mac) ?? null);
      known = new Map([
        ...known,
        ...found.flatMap(({ mac, deviceId, port }: AttachmentFacts) =>
          deviceId === null || port === null ? [] : [[macNumber(mac) ?? 0, { deviceId, port }] as const],
        ),
      ]);
      told.push({ look, ...score });
    }
    return told;
  };
  /** Placement alone, every place put into words, the median of five: what is done again after a survey, however little changed. */
  const again = (more: Partial<NetworkPlan>) => {
    const { devices } = generateNetwork({ ...usualPlan, ...more });
    const seconds = [1, 2, 3, 4, 5].map(() => {
      const started = performance.now();
      const worded = [...place(devices, new DeviceIndex(devices)).attachments].length;
      return worded > 0 ? Math.round((performance.now() - started) / 10) / 100 : NaN;
    });
    return { median: seconds.sort((x, y) => x - y)[2], slowest: seconds[4] };
  };
  return {
    'rows 0.9, LLDP 0.7': [1, 2, 3].map((seed) => looks({ seed }, 2)),
    'rows 0.9, no LLDP': looks({ speaking: 0 }, 2),
    'rows 0.7, LLDP 0.7': looks({ rows: 0.7 }, 3),
    'all rows, all LLDP': looks({ rows: 1, speaking: 1 }, 1),
    // the second look is what a survey costs in which little changed: conclusions are drawn from all tables again, links among them
    'two thousand switches': {
      placementAlone: again({ sites: 50, switches: 41, machines: 29 }),
      looks: looks({ sites: 50, switches: 41, machines: 29 }, 2),
      megabytesWithTheNetwork: Math.round(process.memoryUsage().rss / 1e6),
    },
  };
}
