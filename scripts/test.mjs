// Lint, layer rule, types, unit tests, end-to-end tests; closes with how many passed and failed.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { home, installDependencies, run } from './install.mjs';

installDependencies();
const { buildApplication, buildProgram, isBuilt } = await import('./build.mjs');
installTools();

let passed = 0;
let failed = 0;
const count = (name, code) => {
  if (code === 0) passed++;
  else failed++;
  console.log(`${code === 0 ? 'ok' : 'FAILED'}: ${name}`);
};
const tool = (name, ...args) => run(process.execPath, [path.join(home, 'node_modules', name), ...args]);

count('lint', tool('eslint/bin/eslint.js', '.', '--max-warnings', '0'));
count('layer rule', tool('dependency-cruiser/bin/dependency-cruise.mjs', 'src', '--config', '.dependency-cruiser.cjs'));
count('types', tool('typescript/bin/tsc', '--noEmit'));
jest('unit');
if (!isBuilt()) {
  console.log('building the application');
  const built = buildProgram() || (await buildApplication());
  count('build', built);
}
if (existsSync(path.join(home, '.next/BUILD_ID'))) jest('e2e');
else failed++;

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);

/** Runs one of the two test projects and adds its counts. */
function jest(project) {
  mkdirSync(path.join(home, '.tmp'), { recursive: true });
  const report = path.join(home, `.tmp/${project}.json`);
  rmSync(report, { force: true });
  run(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--no-warnings',
      path.join(home, 'node_modules/jest/bin/jest.js'),
      '--selectProjects',
      project,
      '--json',
      `--outputFile=${report}`,
      ...(project === 'e2e' ? ['--runInBand'] : []),
    ],
    { env: { ...process.env, BOLIDE_HOME: home } },
  );
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
    ['chromium', '/usr/bin/chromium'],
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
