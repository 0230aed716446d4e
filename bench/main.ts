import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import path from 'node:path';
import { startApplication } from '../e2e/support/application';
import { launchBrowser } from '../e2e/support/browser';
import {
  bolide,
  home,
  sampleCredentials,
  sampleRanges,
  startAgents,
  stop,
  stopAll,
  temporaryFolder,
} from '../e2e/support/program';
import { openStore } from '../src/store/base/database';
import { addPerson } from '../src/store/people';
import { benchConclusions } from './conclusions';
import { benchExporters } from './exporters';
import { benchFaceplate } from './faceplate';
import { benchFlows } from './flows';
import { benchHistory } from './history';
import { benchImages } from './images';
import { benchPackets } from './packets';
import { benchGrid, benchLargeEstate } from './grid';
import { person, signedIn } from './person';
import { benchLinks } from './links';
import { benchMapFrames } from './mapFrames';
import { benchMapLayout } from './mapLayout';
import { benchPlacement } from './placement';
import { benchReadiness } from './readiness';
import { benchRehearsal } from './rehearsal';
import { benchSoak } from './soak';
import { benchTables } from './tables';
import { benchCircles, benchTalk } from './talk';
import { benchThousand } from './thousand';
import { benchAgainstWalker } from './walker';
import { benchWaves } from './waves';

/** Timings of what a person waits for. Medians of several runs; nothing here passes or fails. */
const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;
/** Survey of the sample's agents, all of them, by the command line's own clock. */
async function benchSurvey(): Promise<{ seconds: number; agents: number }> {
  const agents = await startAgents(1);
  const folder = temporaryFolder();
  const credentials = path.join(folder, 'credentials.json');
  writeFileSync(credentials, JSON.stringify(sampleCredentials));
  const seconds: number[] = [];
  let answered = 0;
  for (let run = 0; run < 3; run++) {
    const { out } = await bolide([
      'survey',
      '--data',
      path.join(folder, 'data'),
      '--range',
      sampleRanges,
      '--credentials',
      credentials,
      '--via',
      agents.via,
      '--timeout',
      '400',
      '--json',
    ]);
    const summary = JSON.parse(out) as { seconds: number; addresses: { answered: number } };
    seconds.push(summary.seconds);
    answered = summary.addresses.answered;
  }
  await stop(agents.process);
  return { seconds: median(seconds), agents: answered };
}

/** Cold open of each workspace on the demo's history: from the request to the last row that is awaited. */
async function benchWorkspaces(): Promise<Record<string, number>> {
  const data = mkdtempSync(path.join(tmpdir(), 'bolide-bench-'));
  spawnSync(process.execPath, [path.join(home, 'bin/bolide'), 'demo', '--history-only', '--data', data], {
    stdio: 'ignore',
  });
  const store = openStore(data);
  await addPerson(store.db, person.name, person.password, 'administrator');
  store.close();
  const app = await startApplication(data);
  const browser = await launchBrowser({ asUsed: true });
  const found: Record<string, number> = {};
  for (const where of ['today', 'survey', 'estate', 'ports', 'map', 'firmware', 'ledger']) {
    const times: number[] = [];
    for (let run = 0; run < 3; run++) {
      const context = await browser.createBrowserContext();
      const page = await context.newPage();
      await page.setViewport({ width: 1280, height: 800 });
      await signedIn(app.address, page);
      const started = performance.now();
      await page.goto(`${app.address}/${where}`, { waitUntil: 'domcontentloaded' });
      await page.waitForFunction(
        () =>
          document.querySelector('h1') !== null &&
          !document.querySelector('[aria-busy=true]') &&
          !/reading…|placing the devices/.test(document.body.innerText) &&
          document.querySelector('[role=grid] [role=row][aria-rowindex="2"], .lines li, [role=treeitem]') !== null,
        { polling: 'mutation' },
      );
      times.push(performance.now() - started);
      await context.close();
    }
    found[where] = Math.round(median(times));
  }
  await browser.close();
  await stop(app.process);
  rmSync(data, { recursive: true, force: true });
  return found;
}

/** A /16 in which nobody lives, with two credentials, at default politeness: from the command to its exit. */
async function benchSilence(): Promise<{ addresses: number; seconds: number }> {
  const folder = temporaryFolder();
  const credentials = path.join(folder, 'credentials.json');
  writeFileSync(credentials, JSON.stringify(sampleCredentials));
  const { out } = await bolide([
    'survey',
    '--data',
    path.join(folder, 'data'),
    '--range',
    '127.44.0.0/16',
    '--port',
    '1199',
    '--credentials',
    credentials,
    '--json',
  ]);
  const { addresses, seconds } = JSON.parse(out) as { addresses: { silent: number }; seconds: number };
  return { addresses: addresses.silent, seconds };
}

const benches: Record<string, () => Promise<unknown>> = {
  survey: benchSurvey,
  walker: () => benchAgainstWalker(300),
  packets: () => benchPackets(),
  flows: () => benchFlows(),
  circles: () => Promise.resolve(benchCircles()),
  exporters: () => benchExporters(Number(process.env.BOLIDE_BENCH_SECONDS ?? 60)),
  talk: () => Promise.resolve(benchTalk(Number(process.env.BOLIDE_BENCH_TALK ?? 5_000_000))),
  rehearsal: () => Promise.resolve(benchRehearsal()),
  readiness: () => Promise.resolve(benchReadiness()),
  waves: () => Promise.resolve(benchWaves()),
  images: () => benchImages(),
  thousand: () => benchThousand(),
  soak: () => benchSoak(Number(process.env.BOLIDE_SOAK_MINUTES ?? 30)),
  silence: benchSilence,
  largeEstate: () => benchLargeEstate(process.env.BOLIDE_LARGE),
  tables: () => benchTables(process.env.BOLIDE_LARGE),
  conclusions: benchConclusions,
  placement: () => Promise.resolve(benchPlacement()),
  links: () => Promise.resolve(benchLinks()),
  mapFramesPerSecond: benchMapFrames,
  mapLayoutMs: () => Promise.resolve(benchMapLayout()),
  history: () => Promise.resolve(benchHistory()),
  keystrokeToRowsMs: () => benchGrid(5000),
  faceplateMs: benchFaceplate,
  coldOpenMs: benchWorkspaces,
};
const wanted = process.argv.slice(2);
const unknown = wanted.filter((name) => !benches[name]);
if (unknown.length > 0)
  throw new Error(`no bench called ${unknown.join(', ')}: there are ${Object.keys(benches).join(', ')}`);
/** They take long, and run where somebody asks for them. */
const byNameAlone = new Set(['soak']);
const results: Record<string, unknown> = {};
for (const [name, bench] of Object.entries(benches))
  if (wanted.includes(name) || (wanted.length === 0 && !byNameAlone.has(name))) results[name] = await bench();
await stopAll();
console.log(JSON.stringify({ machine: { cores: cpus().length, node: process.version }, ...results }, null, 1));
