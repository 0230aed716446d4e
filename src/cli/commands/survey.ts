import { existsSync, readFileSync, statSync } from 'node:fs';
import type { Command } from 'commander';
import { readTreeFolder } from '../../collect/files/treeFolder';
import { readWalkFolder } from '../../collect/files/walkFolder';
import type { ResourceSource } from '../../collect/https/resourceSource';
import type { VarbindSource } from '../../collect/source';
import { runSurvey } from '../../collect/survey/runSurvey';
import { writes, type Credential } from '../../core/estate/credential';
import { readCredential } from '../../core/estate/credentialSchema';
import { readScope, scopeDefaults, type ScopeText } from '../../core/estate/scope';
import { openStore, type Store } from '../../store/base/database';
import { beat, beatMs, BusyError, endJob, holdSurvey, leaseMs, readJob, updateJob } from '../../store/jobs';
import { workerName } from '../../collect/jobs/worker';
import { readSignatures } from '../../store/programFiles';
import { openCredentials } from '../../store/credentials';
import { CommandError, exitCodes, wholeNumber } from '../exit';

interface SurveyOptions {
  data: string;
  range?: string;
  scope?: string;
  walks?: string;
  trees?: string;
  community?: string[];
  credentials?: string;
  port?: number;
  httpsPort?: number;
  via?: string[];
  neighbours?: number;
  defaultCommunities?: boolean;
  concurrency?: number;
  timeout?: number;
  retries?: number;
  rate?: number;
  json?: boolean;
}

const collect = (value: string, list: string[] = []) => [...list, value];

export function addSurveyCommand(program: Command): void {
  program
    .command('survey')
    .description('ask the equipment once and seal the result')
    .requiredOption('--data <dir>', 'data folder')
    .option('--range <cidr>', 'prefixes, ranges or addresses, separated by commas')
    .option('--scope <file>', 'a scope as JSON')
    .option('--walks <dir>', 'a folder of numeric walks, one a file, named by address')
    .option('--trees <dir>', 'a folder of Redfish trees, one folder an address, index.json at each path')
    .option('--community <name>', 'an SNMP v2c community, tried in order', collect)
    .option('--credentials <file>', 'credentials as a JSON array')
    .option('--port <n>', 'port of the agents', wholeNumber('--port', 1, 65_535))
    .option('--https-port <n>', 'port of Redfish, RESTCONF and controllers', wholeNumber('--https-port', 1, 65_535))
    .option('--via <prefix=prefix>', 'address translation, as 10.72.0.0/16=127.72.0.0/16', collect)
    .option(
      '--neighbours <steps>',
      'follow management addresses of LLDP neighbours so many steps',
      wholeNumber('--neighbours', 0, 32),
    )
    .option('--default-communities', 'look whether devices still answer to the communities they were delivered with')
    .option('--concurrency <n>', 'devices read at once', wholeNumber('--concurrency', 1, 2000))
    .option('--timeout <ms>', 'how long to wait for an answer', wholeNumber('--timeout', 50, 60_000))
    .option('--retries <n>', 'how often to ask again', wholeNumber('--retries', 0, 10))
    .option('--rate <packets/s>', 'packets sent a second, all addresses together', wholeNumber('--rate', 1, 1_000_000))
    .option('--json', 'one JSON object on standard output')
    .action(surveyCommand);
}

async function surveyCommand(options: SurveyOptions): Promise<void> {
  const ways = [options.range, options.scope, options.walks, options.trees].filter((way) => way !== undefined);
  if (ways.length !== 1)
    throw new CommandError('Give exactly one of --range, --scope, --walks and --trees: it says what to ask');
  const { files, trees, unreadable } = openFiles(options);
  const text = scopeText(options, files ?? trees);
  const read = readScope(text);
  if ('mistakes' in read)
    throw new CommandError(read.mistakes.map(({ path, message }) => `${optionOf(path)}: ${message}`).join('\n'));
  if (read.scope.collectors.length > 0)
    throw new CommandError(
      '--scope: a scope with collectors is surveyed by the engine, from the interface or by its calendar',
    );
  // everything is checked before the data folder is touched
  const given = givenCredentials(options);
  const store = openStore(options.data);
  const worker = workerName();
  let jobId: number;
  try {
    jobId = await holdWhenFree(store, worker);
  } catch (error) {
    store.close();
    if (error instanceof BusyError) throw new CommandError(error.message, exitCodes.failed);
    throw error;
  }
  let cancelled = false;
  const heart = setInterval(() => {
    try {
      beat(store.db, worker);
    } catch (error) {
      // the survey itself tells what hinders it
      console.error(`the lease of this survey could not be renewed: ${(error as Error).message}`);
    }
  }, beatMs);
  process.once('SIGINT', () => {
    cancelled = true;
    console.error('cancelling: what was collected is kept');
  });
  try {
    const credentials =
      given.length > 0 || options.scope === undefined
        ? given.filter((credential) => !writes(credential))
        : openCredentials(store, text.credentials);
    if (credentials.length === 0 && !files && !trees)
      throw new CommandError('No credential to try: give --community or --credentials');
    if (!options.json) console.error(`asking ${read.scope.addresses.length} addresses`);
    const summary = await runSurvey(store, {
      scope: read.scope,
      scopeName: text.name,
      credentials,
      signatures: readSignatures(store.folder),
      ...(files && { files }),
      ...(trees && { trees }),
      ...(options.rate !== undefined && { packetsPerSecond: options.rate }),
      unreadable,
      cancelled: () => cancelled,
      onStarted: (surveyId) => updateJob(store.db, jobId, { surveyId }),
    });
    endJob(store.db, { id: jobId, worker }, { state: cancelled ? 'cancelled' : 'done' });
    if (options.json) console.log(JSON.stringify(summary));
    else {
      const { addresses, devices } = summary;
      console.log(
        `survey ${summary.survey}: ${addresses.answered} of ${addresses.asked} addresses answered in ${summary.seconds} s; ${devices.found} devices, ${devices.new} new, ${devices.changed} changed, ${devices.replaced} replaced, ${devices.silent} silent`,
      );
      for (const { address, part, reason, remedy } of summary.failures)
        console.log(`  ${address} ${part}: ${reason}. ${remedy}`);
    }
    if (addresses(summary) === 0) process.exitCode = exitCodes.nothingAnswered;
  } catch (error) {
    endJob(store.db, { id: jobId, worker }, { state: 'failed', error: (error as Error).message });
    throw error;
  } finally {
    clearInterval(heart);
    store.close();
  }
}

/** Holds the place of the survey that runs; waits for one whose process may be gone until that is plain. @throws BusyError */
async function holdWhenFree(store: Store, worker: string): Promise<number> {
  const until = Date.now() + leaseMs + beatMs;
  let lease: number | null = null;
  for (;;) {
    try {
      return holdSurvey(store.db, worker);
    } catch (error) {
      if (!(error instanceof BusyError)) throw error;
      const now = readJob(store.db, error.jobId)?.leaseUntil ?? null;
      // its heart beats, or it has not begun yet
      if (now === null || (lease !== null && now > lease) || Date.now() > until) throw error;
      lease = now;
      await new Promise((resolve) => setTimeout(resolve, beatMs * 2));
    }
  }
}

const addresses = (summary: { addresses: { answered: number } }) => summary.addresses.answered;

const optionOf = (path: string) =>
  path
    .replace(/^ranges\[(\d+)\]$/, (_, at: string) => `--range, entry ${Number(at) + 1}`)
    .replace(/^translations\[\d+\]$/, '--via')
    .replace(/^ranges$/, '--range');

interface SurveyFiles {
  files?: Map<string, VarbindSource>;
  trees?: Map<string, ResourceSource>;
  unreadable: { file: string; reason: string }[];
}

function openFiles({ walks, trees }: SurveyOptions): SurveyFiles {
  return walks !== undefined ? openWalks(walks) : trees !== undefined ? openTrees(trees) : { unreadable: [] };
}

function openTrees(folder: string): SurveyFiles {
  if (!existsSync(folder) || !statSync(folder).isDirectory())
    throw new CommandError(`--trees: “${folder}” is no folder`);
  const { trees, problems } = readTreeFolder(folder);
  for (const { file, reason } of problems) console.error(`${file}: ${reason}`);
  if (trees.size === 0)
    throw new CommandError(
      `--trees: no readable tree in “${folder}”${problems[0] ? ` (${problems[0].file}: ${problems[0].reason})` : ''}`,
    );
  return { trees, unreadable: problems };
}

function openWalks(folder: string): SurveyFiles {
  if (!existsSync(folder) || !statSync(folder).isDirectory())
    throw new CommandError(`--walks: “${folder}” is no folder`);
  const { walks, problems } = readWalkFolder(folder);
  for (const { file, reason } of problems) console.error(`${file}: ${reason}`);
  if (walks.length === 0)
    throw new CommandError(
      `--walks: no readable walk in “${folder}”${problems[0] ? ` (${problems[0].file}: ${problems[0].reason})` : ''}`,
    );
  return { files: new Map(walks.map(({ address, source }) => [address, source])), unreadable: problems };
}

function scopeText(options: SurveyOptions, files: Map<string, unknown> | undefined): ScopeText {
  const base: ScopeText =
    options.scope === undefined
      ? { ...scopeDefaults, name: files ? 'files' : 'command line' }
      : scopeFile(options.scope);
  return {
    ...base,
    ...(options.range !== undefined && { ranges: options.range.split(',').map((part) => part.trim()) }),
    ...(files && { ranges: [...files.keys()] }),
    ...(options.via && { translations: options.via }),
    ...(options.port !== undefined && { port: options.port }),
    ...(options.httpsPort !== undefined && { httpsPort: options.httpsPort }),
    ...(options.defaultCommunities && { defaultCommunities: true }),
    ...(options.neighbours !== undefined && { neighbourSteps: options.neighbours }),
    ...(options.concurrency !== undefined && { concurrency: options.concurrency }),
    ...(options.timeout !== undefined && { timeoutMs: options.timeout }),
    ...(options.retries !== undefined && { retries: options.retries }),
  };
}

function readJson(option: string, file: string): unknown {
  if (!existsSync(file)) throw new CommandError(`${option}: there is no file “${file}”`);
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new CommandError(`${option}: “${file}” is no JSON: ${(error as Error).message}`);
  }
}

function scopeFile(file: string): ScopeText {
  const value = readJson('--scope', file);
  if (!value || typeof value !== 'object' || Array.isArray(value))
    throw new CommandError(`--scope: “${file}” must hold one JSON object`);
  const unknown = Object.keys(value).filter((name) => !(name in scopeDefaults));
  if (unknown.length > 0)
    throw new CommandError(
      `--scope: unknown field ${unknown.map((name) => `“${name}”`).join(', ')}; known are ${Object.keys(scopeDefaults).join(', ')}`,
    );
  const scope = { ...scopeDefaults, ...(value as Partial<ScopeText>) };
  for (const field of [
    'ranges',
    'exclusions',
    'translations',
    'credentials',
    'writeCredentials',
    'neighbourWithin',
    'quietHours',
    'wakeRanges',
    'collectors',
  ] as const) {
    if (!Array.isArray(scope[field]) || scope[field].some((line) => typeof line !== 'string'))
      throw new CommandError(`--scope: ${field} must be a list of texts`);
  }
  return scope;
}

function givenCredentials(options: SurveyOptions): Credential[] {
  const list: Credential[] = [];
  if (options.credentials !== undefined) {
    const value = readJson('--credentials', options.credentials);
    if (!Array.isArray(value)) throw new CommandError('--credentials: the file must hold a JSON array');
    value.forEach((entry, at) => {
      const read = readCredential(entry);
      if ('mistakes' in read)
        throw new CommandError(
          `--credentials, entry ${at + 1}: ${read.mistakes.map(({ path, message }) => (path ? `${path}: ${message}` : message)).join('; ')}`,
        );
      list.push(read.credential);
    });
  }
  for (const community of options.community ?? [])
    list.push({ name: `community ${list.length + 1}`, kind: 'snmp2c', community });
  return list;
}
