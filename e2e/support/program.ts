import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { createSocket } from 'node:dgram';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { networkOfLane } from './lane';

export const home = process.env.BOLIDE_HOME ?? process.cwd();
const program = path.join(home, 'bin/bolide');

/** Where the applications of this suite write what they saw of their answers. */
export const answersFile = path.join(mkdtempSync(path.join(tmpdir(), 'bolide-answers-')), 'answers');
const watcher = pathToFileURL(path.join(home, 'e2e/support/watchAnswers.mjs')).href;
/** What the application runs with, so that its answers are held against its description as they pass. */
export const watchedEnvironment = { NODE_OPTIONS: `--import=${watcher}`, BOLIDE_WATCH_ANSWERS: answersFile };

export interface Ended {
  code: number | null;
  out: string;
  err: string;
}

/** Runs `bolide …` to its end. */
export function bolide(args: string[], env: Record<string, string> = {}, input = ''): Promise<Ended> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [program, ...args], { env: { ...process.env, ...env } as NodeJS.ProcessEnv });
    let out = '';
    let err = '';
    child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (err += chunk.toString()));
    child.on('close', (code) => resolve({ code, out, err }));
    child.stdin.end(input);
  });
}

/** What failed inside applications of this suite, as they wrote it to their log. */
export const failuresInside: string[] = [];

const running = new Set<ChildProcess>();

/** Starts a command that goes on, and waits until it has printed what is awaited. */
export function start(
  command: string,
  args: string[],
  awaited: RegExp,
  heard: (text: string) => void = () => undefined,
): Promise<ChildProcess> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ...watchedEnvironment },
    });
    running.add(child);
    let seen = '';
    const look = (chunk: Buffer) => {
      seen += chunk.toString();
      heard(chunk.toString());
      if (awaited.test(seen)) resolve(child);
    };
    child.stdout.on('data', look);
    child.stderr.on('data', (chunk: Buffer) => {
      look(chunk);
      if (/^(GET|POST|PUT|PATCH|DELETE) \/api\/v1/m.test(chunk.toString())) failuresInside.push(chunk.toString());
    });
    child.on('exit', (code) => {
      running.delete(child);
      reject(new Error(`${command} ended with ${code}: ${seen}`));
    });
  });
}

export const startBolide = (args: string[], awaited: RegExp) => start(process.execPath, [program, ...args], awaited);

export function stop(child: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
  return new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('exit', () => resolve());
    child.kill(signal);
  });
}

export async function stopAll(): Promise<void> {
  await Promise.all([...running].map((child) => stop(child)));
}

export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });
}

export function freeUdpPort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const socket = createSocket('udp4');
    socket.once('error', reject);
    socket.bind(0, '127.0.0.1', () => {
      const { port } = socket.address();
      socket.close(() => resolve(port));
    });
  });
}

/** A folder that is gone when the process is. */
export function temporaryFolder(): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'bolide-e2e-'));
  process.on('exit', () => rmSync(folder, { recursive: true, force: true }));
  return folder;
}

/** The simulated agents of the sample estate at a step of its story, on a network and port of their own. */
export async function startAgents(
  step = 8,
): Promise<{ via: string; base: string; port: number; process: ChildProcess }> {
  const port = await freeUdpPort();
  const base = networkOfLane();
  const child = await startBolide(
    ['sim', '--scenario', '--base', base, '--port', String(port), '--step', String(step)],
    /agents on/,
  );
  return { via: `10.72.0.0/16=${base}/16:${port}`, base, port, process: child };
}

/** Where credentials of tests may be sent: to stand-ins on this machine. */
export const onLoopback = (...ports: number[]) => ({ prefixes: ['127.0.0.0/8'], ports });

export const sampleCredentials = [
  {
    name: 'v3',
    kind: 'snmp3',
    user: 'olr-survey',
    auth: { protocol: 'SHA-256', password: 'signal-lantern-71' },
    priv: { protocol: 'AES-128', password: 'harbour-bell-19' },
  },
  { name: 'read-only', kind: 'snmp2c', community: 'olr-readonly' },
];

export const sampleRanges =
  '10.72.0.0/27,10.72.1.0/26,10.72.3.0/29,10.72.3.8,10.72.4.0/28,10.72.5.0/28,10.72.6.0/28,10.72.17.0/29';

/** The number of the process that calls itself so: engines begin their names with it. */
export const processOf = (worker: string): number => Number(/^\d+/.exec(worker)?.[0] ?? Number.NaN);
