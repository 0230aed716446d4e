// What the other scripts share: the locked dependencies, and running a command in plain sight.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const home = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command to its end; its exit code. */
export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: home, stdio: 'inherit', ...options }).status ?? 1;
}

/** Runs a command beside others; resolves with its exit code. */
export function runBeside(command, args, options = {}) {
  return new Promise((resolve) =>
    spawn(command, args, { cwd: home, stdio: 'inherit', ...options }).on('exit', (code) => resolve(code ?? 1)),
  );
}

/** Installs what the lock file says, when it is not there or older than the lock. */
export function installDependencies() {
  const lock = path.join(home, 'package-lock.json');
  const installed = path.join(home, 'node_modules/.package-lock.json');
  if (
    existsSync(installed) &&
    statSync(installed).mtimeMs >= statSync(lock).mtimeMs - 1000 &&
    existsSync(path.join(home, 'node_modules/better-sqlite3/build/Release/better_sqlite3.node'))
  )
    return;
  console.log('installing the locked dependencies (the database is compiled: about four minutes the first time)');
  const code = run('npm', ['ci', '--no-audit', '--no-fund']);
  if (code !== 0) {
    console.error('The dependencies could not be installed: see the message above.');
    process.exit(code);
  }
}
