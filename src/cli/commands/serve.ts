import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import { workerMark, workerName } from '../../collect/jobs/worker';
import { leaseMs, releaseJobs } from '../../store/jobs';
import { openStore, programFolder } from '../../store/base/database';
import { seedCatalogue } from '../../store/programFiles';
import { vaultKey } from '../../store/vault';
import { CommandError, exitCodes, wholeNumber } from '../exit';

export const defaultPort = 4717;

/** The application and its engine as child processes. */
export interface Serving {
  address: string;
  /** resolves when the web process ended by itself */
  ended: Promise<number>;
  stop(): Promise<void>;
}

export function addServeCommand(program: Command): void {
  program
    .command('serve')
    .description('the application and its engine')
    .option('--port <n>', 'port of the application', wholeNumber('--port', 1, 65_535), defaultPort)
    .option('--host <address>', 'address to listen on', '127.0.0.1')
    .option('--data <dir>', 'data folder', 'data')
    .action(async (options: { port: number; host: string; data: string }) => {
      const serving = await serve(options.data, options.port, options.host);
      console.log(`Bolide is at ${serving.address}`);
      await untilStopped(serving);
    });
}

/** Stops everything on Ctrl+C or SIGTERM; ends when the web process ends. */
export async function untilStopped(serving: Serving, also: () => void = () => undefined): Promise<void> {
  const signal = new Promise<number>((resolve) => {
    for (const name of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(name, () => resolve(0));
  });
  const code = await Promise.race([signal, serving.ended]);
  await serving.stop();
  also();
  process.exitCode = code;
}

/** Starts both processes and waits until the application answers. */
export async function serve(data: string, port: number, host: string): Promise<Serving> {
  const home = programFolder();
  if (!existsSync(path.join(home, '.next/BUILD_ID')))
    throw new CommandError('The application is not built yet: run “npm run build” once', exitCodes.failed);
  const folder = path.resolve(data);
  const store = openStore(folder);
  vaultKey(folder);
  seedCatalogue(store);
  store.close();
  const tables = path.join(home, 'dist/tables.mjs');
  const environment = {
    ...process.env,
    ...(existsSync(tables) && { BOLIDE_TABLE_THREAD: tables }),
    BOLIDE_DATA: folder,
    BOLIDE_HOME: home,
    NODE_ENV: 'production' as const,
    NEXT_TELEMETRY_DISABLED: '1',
  };
  let stopping = false;
  const web = spawn(
    process.execPath,
    [path.join(home, 'node_modules/next/dist/bin/next'), 'start', home, '-p', String(port), '-H', host],
    { env: environment, stdio: ['ignore', 'ignore', 'inherit'] },
  );
  let engine: ChildProcess;
  let delayMs = 500;
  const startEngine = () => {
    const started = Date.now();
    const mark = workerMark();
    engine = spawn(process.execPath, [path.join(home, 'bin/bolide'), 'engine', '--data', folder, '--mark', mark], {
      env: environment,
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    const processId = engine.pid;
    engine.on('exit', (code) => {
      // what it held is free at once: nobody need wait until its heart is missed
      giveBack(folder, workerName(mark, processId));
      if (stopping) return;
      delayMs = Date.now() - started > 60_000 ? 500 : Math.min(delayMs * 2, 30_000);
      console.error(`the engine ended (${code ?? 'killed'}); it starts again in ${delayMs / 1000} s`);
      setTimeout(() => !stopping && startEngine(), delayMs).unref();
    });
  };
  startEngine();
  const ended = new Promise<number>((resolve) => web.on('exit', (code) => resolve(code ?? 1)));
  const stop = async () => {
    stopping = true;
    const gone = [web, engine].map(
      (child) =>
        new Promise<void>((resolve) =>
          child.exitCode === null && child.signalCode === null ? child.once('exit', () => resolve()) : resolve(),
        ),
    );
    for (const child of [web, engine]) child.kill('SIGTERM');
    const force = setTimeout(() => [web, engine].forEach((child) => child.kill('SIGKILL')), 4000);
    await Promise.all(gone);
    clearTimeout(force);
  };
  const address = `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`;
  const answered = await waitForAnswer(address, ended);
  if (!answered) {
    await stop();
    throw new CommandError(`The application did not start on port ${port}: is the port in use?`, exitCodes.failed);
  }
  return { address, ended, stop };
}

/** Gives back what a process that is gone was at work on. */
function giveBack(folder: string, worker: string): void {
  try {
    const store = openStore(folder);
    releaseJobs(store.db, worker);
    store.close();
  } catch (error) {
    console.error(`the jobs of the engine that ended are free in ${leaseMs / 1000} s:`, (error as Error).message);
  }
}

async function waitForAnswer(address: string, ended: Promise<number>): Promise<boolean> {
  let over = false;
  void ended.then(() => (over = true));
  for (let attempt = 0; attempt < 300 && !over; attempt++) {
    try {
      await fetch(`${address}/api/v1/health`);
      return !over;
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  return false;
}
