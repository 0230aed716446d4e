import { spawn, type ChildProcess } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { existsSync } from 'node:fs';
import { get as httpGet } from 'node:http';
import { get as httpsGet } from 'node:https';
import path from 'node:path';
import type { Command } from 'commander';
import { workerMark, workerName } from '../../collect/jobs/worker';
import { isLoopback, originsOf, readOrigin } from '../../core/access/origins';
import { hangsMs, readHeartbeats, stillLoop } from '../../store/heartbeats';
import { keyProblem } from '../../store/keyring';
import { leaseMs, releaseJobs } from '../../store/jobs';
import { openStore, programFolder } from '../../store/base/database';
import { addressOrNull, networkOf } from '../../core/values/ipAddress';
import { forgetFlowState, readFlowState, writeFlowState, type FlowState } from '../../store/flowState';
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
  flows?: { address: string; port: number };
  flowsFrom?: string;
  flowsEvery?: number;
}

/** `[ADDRESS:]PORT`. */
function flowsPlace(text: string): { address: string; port: number } {
  const [, address = '', port = ''] = /^(?:\[?([0-9a-fA-F.:]+?)\]?:)?(\d+)$/.exec(text) ?? [];
  const told = address === '' ? '0.0.0.0' : addressOrNull(address);
  if (told === null || Number(port) < 1 || Number(port) > 65_535)
    throw new CommandError(`--flows “${text}”: write a port, or an address and a port like 10.72.0.9:2055`);
  return { address: told, port: Number(port) };
}

const silentState = ({ address, port }: { address: string; port: number }): FlowState => ({
  listens: `${address}:${port}`,
  at: Date.now(),
  exporters: [],
  strangers: [],
  unreadable: 0,
  lastFault: '',
  overflowed: 0,
  dropped: null,
});

/** Prefixes, each with a comma behind it but the last. */
function prefixesIn(text: string): string {
  const wrong = text.split(',').find((one) => !isPrefix(one.trim()));
  if (wrong !== undefined) throw new CommandError(`--flows-from “${wrong}” is no prefix: write it like 10.72.0.0/16`);
  return text
    .split(',')
    .map((one) => {
      const [address = '', length] = one.trim().split('/');
      return networkOf(address, Number(length));
    })
    .join(',');
}
const isPrefix = (text: string): boolean => {
  const [address = '', length = ''] = text.split('/');
  const most = address.includes(':') ? 128 : 32;
  return addressOrNull(address) !== null && /^\d+$/.test(length) && Number(length) <= most;
};

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
    .option('--flows <place>', 'hear NetFlow 5, 9 and IPFIX at [address:]port', flowsPlace)
    .option('--flows-from <prefixes>', 'whom to hear beside the devices that are known', prefixesIn)
    .option('--flows-every <seconds>', 'how often what was heard is written', wholeNumber('--flows-every', 1, 3600), 60)
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
  const { flows: place, flowsFrom = '', flowsEvery = 60 } = options;
  // from now on it is noticed where nobody hears them
  if (place) writeFlowState(folder, silentState(place));
  else forgetFlowState(folder);
  const flows = place
    ? new KeptChild({
        name: 'hearing of flows',
        start: () =>
          child([
            'flows',
            '--data',
            folder,
            '--listen',
            place.address,
            '--port',
            String(place.port),
            '--every',
            String(flowsEvery),
            ...(flowsFrom ? ['--from', flowsFrom] : []),
          ]),
        hangs: (startedAt) => {
          const silent = Date.now() - Math.max(startedAt, readFlowState(folder)?.at ?? 0);
          return silent > hangsMs ? `hangs (nothing was told for ${Math.round(silent / 1000)} s)` : null;
        },
      })
    : null;
  const withoutFlows = <Result>(work: () => Promise<Result>) => (flows ? flows.without(work) : work());
  const looking = setInterval(() => {
    tellServing(folder);
    if (!isUp || isRestoring || !existsSync(restoreFile(folder))) return;
    isRestoring = true;
    web
      .without(() => engine.without(() => withoutFlows(() => Promise.resolve(takeRestore(folder)))))
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
    await Promise.all([web.stop(), engine.stop(), flows?.stop()]);
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
    ...(place ? [`Exporters of flows are heard at ${place.address} port ${place.port}`] : []),
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
