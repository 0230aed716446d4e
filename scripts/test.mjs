// Format, lint with types, layer rule, unit tests, end-to-end tests; closes with how many passed and failed.
// `npm test -- --changed` runs what the working tree touches.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { touchedFiles, touchedSuites } from './changed.mjs';
import { home, installDependencies, run } from './install.mjs';

const onlyChanged = process.argv.includes('--changed');
/** Suites beside each other, each in a lane with loopback networks of its own. */
const lanes = Math.max(1, Math.min(availableParallelism(), 4));

await installDependencies();
const { buildApplication, buildProgram, isBuilt } = await import('./build.mjs');
installTools();

let passed = 0;
let failed = 0;
const count = (name, code, seconds) => {
  if (code === 0) passed++;
  else failed++;
  console.log(`${code === 0 ? 'ok' : 'FAILED'}: ${name} (${Math.round(seconds)} s)`);
};

const changed = onlyChanged ? touchedFiles() : null;
if (changed?.length === 0) console.log('nothing is changed');
const sources = changed?.filter((file) => /\.(ts|tsx|mjs)$/.test(file)) ?? ['.'];
const step =
  (name, program, ...args) =>
  () =>
    timed(name, () => beside([path.join(home, 'node_modules', program), ...args]));
const lint = step('lint and types', 'oxlint/bin/oxlint', '--type-aware', '--type-check', '--quiet', '.');
const format = step('format', 'oxfmt/bin/oxfmt', '--check', ...sources);
const layers = step(
  'layer rule',
  'dependency-cruiser/bin/dependency-cruise.mjs',
  'src',
  '--config',
  '.dependency-cruiser.cjs',
);
const description = step('description of the API', '../scripts/describe-answers.mjs', '--check');
const build = async () => {
  if (isBuilt()) return;
  await timed('build', async () => ({ code: buildProgram() || (await buildApplication()), out: '' }));
};
await Promise.all([inTurn([build]), inTurn([...(sources.length > 0 ? [format, lint] : []), layers, description])]);
jest('unit', onlyChanged ? ['--onlyChanged', '--passWithNoTests'] : []);
const suites = changed ? touchedSuites(changed) : null;
if (suites?.length === 0) console.log('no end-to-end test is touched');
else if (existsSync(path.join(home, '.next/BUILD_ID'))) jest('e2e', suites ?? []);
else failed++;

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);

async function inTurn(steps) {
  for (const one of steps) await one();
}

/** Runs a step and says how it went; what it printed is shown in one piece, since another one runs beside it. */
async function timed(name, work) {
  const began = Date.now();
  const { code, out } = await work();
  if (code !== 0 && out) console.log(out);
  count(name, code, (Date.now() - began) / 1000);
}

/** Runs a script of Node's and keeps what it prints. */
function beside(args) {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, { cwd: home, stdio: ['ignore', 'pipe', 'pipe'] });
    let out = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => (out += part));
    child.on('close', (code) => resolve({ code: code ?? 1, out }));
  });
}

/** Runs one of the two test projects and adds its counts. */
function jest(project, more) {
  mkdirSync(path.join(home, '.tmp'), { recursive: true });
  const report = path.join(home, `.tmp/${project}.json`);
  rmSync(report, { force: true });
  const program = path.join(home, 'node_modules/jest/bin/jest.js');
  const options = [`--selectProjects=${project}`, `--maxWorkers=${lanes}`, '--json', `--outputFile=${report}`];
  run(process.execPath, ['--experimental-vm-modules', '--no-warnings', program, ...options, ...more], {
    env: { ...process.env, BOLIDE_HOME: home },
  });
  if (!existsSync(report)) {
    failed++;
    return;
  }
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
  passed += numPassedTests;
  failed += numFailedTests + numRuntimeErrorTestSuites;
}

/** Chromium and a real SNMP agent come from Debian's packages. */
function installTools() {
  const wanted = [
    ['chromium-headless-shell', '/usr/bin/chromium-headless-shell'],
    ['snmpd', '/usr/sbin/snmpd'],
  ]
    .filter(([, file]) => !existsSync(file))
    .map(([name]) => name);
  if (wanted.length === 0) return;
  const asRoot = process.getuid?.() === 0 && spawnSync('apt-get', ['--version']).status === 0;
  if (asRoot) {
    console.log(`installing ${wanted.join(' and ')} for the end-to-end tests`);
    const quiet = {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    };
    run('apt-get', ['update'], quiet);
    if (run('apt-get', ['install', '-y', '--no-install-recommends', ...wanted], quiet) === 0) return;
  }
  console.error(
    `The end-to-end tests need ${wanted.join(' and ')}: install ${wanted.length > 1 ? 'them' : 'it'} (on Debian: apt-get install ${wanted.join(' ')}) and run the tests again.`,
  );
  process.exit(1);
}
