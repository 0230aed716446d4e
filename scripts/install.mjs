// What the other scripts share: the locked dependencies, and running a command in plain sight.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const home = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

const driver = path.join(home, 'node_modules/better-sqlite3/build/Release/better_sqlite3.node');
const tellEveryMs = 10_000;

/** Runs a command to its end; its exit code. */
export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: home, stdio: 'inherit', ...options }).status ?? 1;
}

/** Runs a command beside others; resolves with its exit code. */
export function runBeside(command, args, options = {}) {
  return new Promise((resolve) =>
    spawn(command, args, { cwd: home, stdio: 'inherit', ...options })
      .on('error', () => resolve(1))
      .on('exit', (code) => resolve(code ?? 1)),
  );
}

/** Installs what the lock file says, when it is not there or older than the lock. */
export async function installDependencies() {
  if (isInstalled()) return;
  console.log('installing the locked dependencies');
  const began = Date.now();
  const timer = setInterval(
    () => console.log(`${whatIsDone()}, ${Math.round((Date.now() - began) / 1000)} s gone`),
    tellEveryMs,
  );
  // the driver, where it is compiled, on all processors
  const code = await runBeside('npm', ['ci', '--no-audit', '--no-fund'], { env: { JOBS: 'max', ...process.env } });
  clearInterval(timer);
  if (code !== 0) {
    console.error('The dependencies could not be installed: see the message above.');
    process.exit(code);
  }
}

function isInstalled() {
  const lock = path.join(home, 'package-lock.json');
  const installed = path.join(home, 'node_modules/.package-lock.json');
  return existsSync(driver) && existsSync(installed) && statSync(installed).mtimeMs >= statSync(lock).mtimeMs - 1000;
}

/** npm says nothing while it works: what can be told from the files that are there by now. */
function whatIsDone() {
  if (!existsSync(path.join(home, 'node_modules/better-sqlite3/package.json'))) return 'fetching packages';
  if (existsSync(driver)) return 'the database driver is there; the last packages are set up';
  return existsSync(path.join(home, 'node_modules/better-sqlite3/build'))
    ? 'compiling the database driver (no built one could be fetched; about four minutes in all)'
    : 'looking for a built database driver';
}
