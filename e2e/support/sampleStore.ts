import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { FleetProcess } from '../../src/cli/fleetProcess';
import { runSurvey, type SurveyPlan } from '../../src/collect/survey/runSurvey';
import type { SurveySummary } from '../../src/collect/survey/surveySummary';
import { readScope, scopeDefaults, type Scope, type ScopeText } from '../../src/core/estate/scope';
import { storyLength } from '../../src/sim/ostermere/estate';
import { sampleHardwareUser } from '../../src/sim/ostermere/controllers';
import { Fleet, sampleCommunity, sampleUser } from '../../src/sim/ostermere/fleet';
import { sampleControllerUser, sampleNetworkUser } from '../../src/sim/ostermere/services';
import { makerList } from '../../src/sim/ostermere/makers';
import { openStore, type Store } from '../../src/store/base/database';
import { readSignatures, seedCatalogue } from '../../src/store/programFiles';
import { saveMakers } from '../../src/store/makers';
import { writeDemoSites } from '../../src/cli/demoSites';
import { networkOfLane } from './lane';
import { madeOnce } from './madeOnce';
import { freeUdpPort } from './program';

/** The sample estate surveyed in this process, over real sockets, into a store of its own. */
export interface SampleStore {
  store: Store;
  fleet: { moveTo(step: number): Promise<void>; close(): void };
  base: string;
  port: number;
  survey(more?: Partial<SurveyPlan>, scope?: Partial<ScopeText>): Promise<SurveySummary>;
  close(): void;
}

export const sampleKeys: SurveyPlan['credentials'] = [
  {
    name: 'v3',
    kind: 'snmp3',
    user: sampleUser.name,
    auth: { protocol: sampleUser.authProtocol, password: sampleUser.authPassword },
    priv: { protocol: sampleUser.privProtocol, password: sampleUser.privPassword },
  },
  { name: 'read-only', kind: 'snmp2c', community: sampleCommunity },
  { name: 'hardware', kind: 'redfish', ...sampleHardwareUser },
  { name: 'network', kind: 'restconf', ...sampleNetworkUser },
  { name: 'controllers', kind: 'controller', ...sampleControllerUser },
];

export function scopeOf(text: Partial<ScopeText>): Scope {
  const read = readScope({ ...scopeDefaults, name: 'test', ...text });
  if ('mistakes' in read) throw new Error(JSON.stringify(read.mistakes));
  return read.scope;
}

/** The addresses of the first floor of Signal House and the north stops that somebody has at one step of the story or another: no time is lost on silence. */
const inhabited = [
  '10.72.0.1-2',
  '10.72.0.5-6',
  '10.72.0.9',
  '10.72.0.21-22',
  '10.72.0.25-26',
  '10.72.1.11-14',
  '10.72.1.30-32',
  '10.72.1.40',
  '10.72.2.11-14',
  ...[3, 4, 5, 6].flatMap((net) => [`10.72.${net}.1-2`, `10.72.${net}.8`]),
  '10.72.17.1-2',
];

/** The whole operator, silence between the devices included. */
export const everywhere = [
  '10.72.0.0/27',
  '10.72.1.0/26',
  '10.72.2.0/28',
  ...[3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 17].map((net) => `10.72.${net}.0/27`),
  '10.72.17.61-62',
  '10.72.17.81-82',
  '10.72.32.1-79',
  '10.72.33.1-79',
  '10.72.48.1-79',
];

/** The whole operator, surveyed at every step of the story. */
export const wholeStory: SampleWish = {
  apart: true,
  steps: Array.from({ length: storyLength }, (_, at) => at + 1),
  scope: { ranges: everywhere, defaultCommunities: true, concurrency: 48, timeoutMs: 1000 },
};
/** So long eight surveys of everything may take beside other suites. */
export const wholeStoryMs = 300_000;

/** A survey at 06:00 of the Monday of each story step, so that moments are the same in every run. */
const mondayOf = (step: number) => () => new Date(Date.UTC(2026, 9, 5 + (step - 1) * 7, 6));

export interface SampleWish {
  /** the agents in a process of their own: for surveys of the whole operator, where one process would be late with both asking and answering */
  apart?: boolean;
  /** the steps of the story that have been surveyed already */
  steps?: number[];
  /** what those surveys asked, where it is not the usual */
  scope?: Partial<ScopeText>;
}

/** A store of its own, with the surveys of some steps of the story behind it: each story is surveyed once, and handed out as copies. */
export async function openSample({ apart = false, steps = [], scope = {} }: SampleWish = {}): Promise<SampleStore> {
  const folder = mkdtempSync(path.join(tmpdir(), 'bolide-sample-'));
  if (steps.length > 0) await copySurveyed(folder, steps, { apart, scope });
  const sample = await opened(folder, apart, steps.length);
  const close = () => {
    sample.close();
    rmSync(folder, { recursive: true, force: true });
  };
  return { ...sample, close };
}

/** Lays a folder with the surveys of some steps into a folder, made from the one without the last of them. */
async function copySurveyed(folder: string, steps: number[], { apart, scope }: Required<Omit<SampleWish, 'steps'>>) {
  const earlier = steps.slice(0, -1);
  const made = await madeOnce(`${JSON.stringify(scope)} ${steps.join()}`, async (making) => {
    if (earlier.length > 0) await copySurveyed(making, earlier, { apart, scope });
    const sample = await opened(making, apart, earlier.length);
    await sample.fleet.moveTo(steps.at(-1) ?? 1);
    await sample.survey({}, scope);
    sample.close();
  });
  cpSync(made, folder, { recursive: true });
}

async function opened(folder: string, apart: boolean, surveyed: number): Promise<SampleStore> {
  const store = openStore(folder);
  if (surveyed === 0) {
    seedCatalogue(store);
    saveMakers(store.db, makerList);
    writeDemoSites(store.db, 'marla');
  }
  const port = await freeUdpPort();
  const base = networkOfLane();
  // whoever goes on with a story meets the certificates it began with
  const certificates = path.join(folder, 'certificates.json');
  const fleet = apart ? new FleetProcess(base, port, port, certificates) : new Fleet(base, port, port, certificates);
  let surveys = surveyed;
  return {
    store,
    fleet,
    base,
    port,
    survey: (more = {}, scope = {}) => {
      const clock = mondayOf(++surveys);
      return runSurvey(store, {
        scope: scopeOf({
          ranges: inhabited,
          translations: [`10.72.0.0/16 via ${base}/16 port ${port} https ${port}`],
          timeoutMs: 250,
          retries: 1,
          ...scope,
        }),
        scopeName: 'Ostermere',
        atOnce: 4096,
        credentials: sampleKeys,
        signatures: readSignatures(folder),
        clock,
        ...more,
      });
    },
    close: () => {
      fleet.close();
      store.close();
    },
  };
}
