import { spawn, type ChildProcess } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { existsSync } from 'node:fs';
import { get as httpGet } from 'node:http';
import { get as httpsGet } from 'node:https';
import path from 'node:path';
import type { Command } from 'commander';
import { workerMark, workerName } from '../../collect/jobs/worker';
import { isLoopback, originsOf, readOrigin } from '../../core/access/origins';
import { readHeartbeats, stillLoop } from '../../store/heartbeats';
import { keyProblem } from '../../store/keyring';
import { leaseMs, releaseJobs } from '../../store/jobs';
import { openStore, programFolder } from '../../store/base/database';
import { countPeople } from '../../store/people';
import { seedCatalogue } from '../../store/programFiles';
import { CommandError, exitCodes, wholeNumber } from '../exit';
import { restoreFile, takeRestore, tellRestored } from '../../store/backups';
import { endServing, servingMs, tellServing } from '../serving/serving';
import { KeptChild } from '../serving/keptChild';
import { fingerprintOf, ownNames, readPair, selfSignedFiles, type TlsFiles } from '../web/tls';
import type { Listening } from '../web/webServer';

export const defaultPort = 4717;

/** The application and its engine as child processes. */
export interface Serving {
  address: string;
  /** what whoever started it should know */
  told: string[];
  /** resolves when the application could not go on */
  ended: Promise<number>;
  stop(): Promise<void>;
}

/** How the application is served. */
export interface ServeOptions {
  data: string;
  port: number;
  host: string;
  origin?: string[];
  trustProxy?: boolean;
  tlsCert?: string;
  tlsKey?: string;
  tlsSelfSigned?: boolean;
}

const oneMore = (text: string, before: string[] = []): string[] => {
  const origin = readOrigin(text);
  if (origin === null)
    throw new CommandError(
      `--origin “${text}”: write it as browsers do, like https://bolide.example:8443, without a path`,
    );
  return [...before, origin];
};

export function addServeCommand(program: Command): void {
  program
    .command('serve')
    .description('the application and its engine')
    .option('--port <n>', 'port of the application', wholeNumber('--port', 1, 65_535), defaultPort)
    .option('--host <address>', 'address to listen on', '127.0.0.1')
    .option('--data <dir>', 'data folder', 'data')
    .option('--origin <url>', 'where people reach it, if by another name or port; may be given again', oneMore)
    .option('--tls-cert <file>', 'certificate, PEM: the application is served over HTTPS')
    .option('--tls-key <file>', 'its key, PEM')
    .option('--tls-self-signed', 'HTTPS with a certificate of its own')
    .option('--trust-proxy', 'a proxy stands in front: what it says of who asks is believed')
    .action(async (options: ServeOptions) => {
      const serving = await serve(options);
      for (const line of [`Bolide is at ${serving.address}`, ...serving.told]) console.log(line);
      await untilStopped(serving);
    });
}

/** Stops everything on Ctrl+C or SIGTERM; ends when the application cannot go on. */
export async function untilStopped(serving: Serving, also: () => void = () => undefined): Promise<void> {
  const signal = new Promise<number>((resolve) => {
    for (const name of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(name, () => resolve(0));
  });
  const code = await Promise.race([signal, serving.ended]);
  await serving.stop();
  also();
  process.exitCode = code;
}

async function tlsOf(options: ServeOptions, folder: string, origins: readonly string[]): Promise<TlsFiles | null> {
  const { tlsCert: cert, tlsKey: key, tlsSelfSigned } = options;
  if (tlsSelfSigned && (cert || key))
    throw new CommandError('--tls-self-signed makes a certificate of its own: leave --tls-cert and --tls-key out');
  if (tlsSelfSigned)
    return selfSignedFiles(
      folder,
      origins.map((origin) => new URL(origin).hostname.replace(/^\[|\]$/g, '')),
    );
  if (!cert && !key) return null;
  if (!cert || !key) throw new CommandError('--tls-cert and --tls-key belong together: give both');
  const files = { cert: path.resolve(cert), key: path.resolve(key) };
  readPair(files);
  return files;
}

// none that is taken for another
const codeLetters = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789';
const newCode = (): string =>
  [4, 4].map((length) => Array.from({ length }, () => codeLetters[randomInt(codeLetters.length)]).join('')).join('-');

/** Starts both processes and waits until the application answers. */
export async function serve(options: ServeOptions): Promise<Serving> {
  const { port, host } = options;
  const home = programFolder();
  if (!existsSync(path.join(home, '.next/BUILD_ID')))
    throw new CommandError('The application is not built yet: run “npm run build” once', exitCodes.failed);
  const folder = path.resolve(options.data);
  if (existsSync(restoreFile(folder))) takeRestore(folder);
  const store = openStore(folder);
  const problem = keyProblem(store);
  if (problem !== null) {
    store.close();
    throw new CommandError(problem, exitCodes.failed);
  }
  seedCatalogue(store);
  const isNew = countPeople(store.db) === 0;
  store.close();
  const told = [
    ...(process.env.BOLIDE_ORIGINS ?? '')
      .split(/[\s,]+/)
      .filter(Boolean)
      .flatMap((text) => oneMore(text)),
    ...(options.origin ?? []),
  ];
  const tls = await tlsOf(options, folder, told);
  const secure = tls !== null;
  const origins = originsOf({ listens: { host, port, secure }, own: ownNames(), told });
  const trustProxy = options.trustProxy ?? process.env.BOLIDE_TRUST_PROXY === '1';
  const listening: Listening = { host, port, tls, strict: secure && !options.tlsSelfSigned, trustProxy };
  const setupCode = newCode();
  const [tables, work] = ['tables', 'work'].map((name) => path.join(home, `dist/${name}.mjs`)) as [string, string];
  const environment = {
    ...process.env,
    ...(existsSync(tables) && { BOLIDE_TABLE_THREAD: tables }),
    ...(existsSync(work) && { BOLIDE_WORK_THREAD: work }),
    BOLIDE_DATA: folder,
    BOLIDE_HOME: home,
    BOLIDE_ORIGINS: origins.join(' '),
    BOLIDE_SETUP_CODE: setupCode,
    NODE_ENV: 'production' as const,
    NEXT_TELEMETRY_DISABLED: '1',
  };
  const child = (args: string[]): ChildProcess =>
    spawn(process.execPath, [path.join(home, 'bin/bolide'), ...args], {
      env: environment,
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });

  let failed: (code: number) => void = () => undefined;
  const ended = new Promise<number>((resolve) => (failed = resolve));
  let isUp = false;
  let isRestoring = false;
  const web = new KeptChild({
    name: 'application',
    start: () => child(['web', '--listening', JSON.stringify(listening)]),
    // one that never came up would not come up the next time either
    ended: ({ exitCode }) => !isUp && failed(exitCode || exitCodes.failed),
  });
  const names = new WeakMap<ChildProcess, string>();
  const engine = new KeptChild({
    name: 'engine',
    start: () => {
      const mark = workerMark();
      const started = child(['engine', '--data', folder, '--mark', mark]);
      names.set(started, workerName(mark, started.pid));
      return started;
    },
    // what it held is free at once: nobody need wait until its heart is missed
    ended: (gone) => giveBack(folder, names.get(gone) ?? ''),
    hangs: (startedAt) => {
      const still = stillLoop(readHeartbeats(folder), { since: startedAt, now: Date.now() });
      return still && `hangs (${still})`;
    },
  });
  const looking = setInterval(() => {
    tellServing(folder);
    if (!isUp || isRestoring || !existsSync(restoreFile(folder))) return;
    isRestoring = true;
    web
      .without(() => engine.without(() => Promise.resolve(takeRestore(folder))))
      .then((before) => {
        tellRestored(folder);
        console.error(`a backup was restored; what there was is kept in ${before}`);
      })
      .catch((error: unknown) => {
        console.error('the backup was not restored:', error);
        tellRestored(folder, (error as Error).message || 'unknown');
      })
      .finally(() => (isRestoring = false));
  }, servingMs);
  const stop = async () => {
    clearInterval(looking);
    await Promise.all([web.stop(), engine.stop()]);
    endServing(folder);
  };
  const scheme = secure ? 'https' : 'http';
  const inUrl = host.includes(':') ? `[${host}]` : host;
  const address = `${scheme}://${['0.0.0.0', '::'].includes(host) ? '127.0.0.1' : inUrl}:${port}`;
  isUp = await waitForAnswer(address, ended);
  if (!isUp) {
    await stop();
    throw new CommandError(`The application did not start on port ${port}: is the port in use?`, exitCodes.failed);
  }
  const lines = [
    ...(told.length > 0 ? [`People reach it at ${told.join(', ')}`] : []),
    ...(options.tlsSelfSigned && tls
      ? [`Its certificate is its own, SHA-256 ${fingerprintOf(readPair(tls).cert)}`]
      : []),
    ...(!secure && !isLoopback(host) && !trustProxy
      ? ['Anybody on the way can read along: give --tls-cert and --tls-key, or --tls-self-signed']
      : []),
    ...(trustProxy ? ['What the proxy in front says of who asks is believed: nobody else may reach this port'] : []),
    ...(isNew ? [`Make the administrator there; from another machine it asks for this code: ${setupCode}`] : []),
  ];
  return { address, told: lines, ended, stop };
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
    if (await answers(`${address}/api/v1/health`)) return !over;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return false;
}

/** Whether anything at all is answered; that it is the right machine need not be proved to oneself. */
const answers = (address: string): Promise<boolean> =>
  new Promise((resolve) => {
    const heard = (response: { resume(): unknown }) => {
      response.resume();
      resolve(true);
    };
    const request = address.startsWith('https:')
      ? httpsGet(address, { rejectUnauthorized: false }, heard)
      : httpGet(address, heard);
    request.on('error', () => resolve(false));
  });
