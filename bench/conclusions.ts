import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { concludeBeside } from '../src/collect/survey/threads/concludeBeside';
import { writeConclusion } from '../src/collect/survey/conclusion';
import type { HarvestPart } from '../src/core/estate/harvest';
import { toldReport } from '../src/core/resources/toldReport';
import { commitReport } from '../src/store/commitReport';
import { Identities } from '../src/store/identities';
import { inTransaction, openStore, type Store } from '../src/store/base/database';
import { survey } from '../src/store/base/schema';
import { generateNetwork, usualPlan, type Network } from './networks/network';

const parts = new Set<HarvestPart>([
  'system',
  'interfaces',
  'modules',
  'addresses',
  'neighbourAddresses',
  'bridge',
  'lldp',
  'power',
]);

function commit(
  store: Store,
  surveyId: number,
  { devices, sightings }: Network,
  wanted: (place: number) => boolean,
): void {
  inTransaction(store.db, () => {
    store.db
      .insert(survey)
      .values({ scopeName: 'bench', scope: {}, state: 'running', startedAt: new Date(surveyId * 1000).toISOString() })
      .run();
    const identities = new Identities(store.db, surveyId);
    devices.forEach(
      ({ id, device: { name, role, site, address, bridgeAddress, serial }, ports, neighbours }, place) => {
        if (!wanted(place)) return;
        const report = toldReport(
          'snmp',
          { name, role, site, address, bridgeAddress, serial, signature: 'bench' },
          { ports, neighbours, sightings: sightings.get(id) ?? { forwarding: [], addresses: [] } },
        );
        const { interfaces: _, ...device } = report.device;
        commitReport(
          store.db,
          surveyId,
          identities,
          { kind: 'snmp', report: { ...report, device }, covered: parts, asked: parts },
          () => false,
        );
      },
    );
  });
}

/** What two thousand switches cost the engine when a survey ends: reading, concluding in a thread of its own, and writing what changed. */
export async function benchConclusions(): Promise<Record<string, unknown>> {
  const folder = mkdtempSync(path.join(tmpdir(), 'bolide-bench-'));
  const store = openStore(folder);
  const plan = { ...usualPlan, sites: 50, switches: 41, machines: 29 };
  const first = generateNetwork(plan);
  const again = generateNetwork({ ...plan, look: 2 });
  const told: Record<string, unknown> = { ...first.counts };
  let surveyId = 0;
  const conclude = async (what: string, network: Network, wanted: (place: number) => boolean) => {
    commit(store, ++surveyId, network, wanted);
    const started = performance.now();
    await concludeBeside(store, surveyId, false, (conclusion) =>
      inTransaction(store.db, () => writeConclusion(store.db, surveyId, conclusion)),
    );
    told[what] = {
      seconds: Math.round((performance.now() - started) / 10) / 100,
      megabytes: Math.round(process.memoryUsage().rss / 1e6),
    };
  };
  await conclude('first', first, () => true);
  await conclude('one in a hundred changed', again, (place) => place % 100 === 0);
  await conclude('nothing changed', again, () => false);
  await conclude('another hundredth', again, (place) => place % 100 === 1);
  store.close();
  rmSync(folder, { recursive: true, force: true });
  return told;
}
