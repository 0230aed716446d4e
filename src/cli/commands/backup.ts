import { copyFileSync, chmodSync, existsSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import {
  BackupError,
  backUp,
  backUpKey,
  expectBackup,
  layRestore,
  restoreOutcome,
  takeRestore,
} from '../../store/backups';
import { databaseFile, openStore } from '../../store/base/database';
import { keyProblem } from '../../store/keyring';
import { keyFile, NoKey, readKeyFile } from '../../store/vault';
import { CommandError, exitCodes } from '../exit';
import { isServed } from '../serving/serving';

interface Options {
  data: string;
  key?: string;
}

const megabytes = (octets: number): string => `${(octets / 1024 / 1024).toFixed(1)} MB`;

/** Does something with copies, whose mistakes are the person's. */
async function told(work: () => Promise<void> | void): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (error instanceof BackupError || error instanceof NoKey) throw new CommandError(error.message);
    throw error;
  }
}

export function addBackupCommand(program: Command): void {
  program
    .command('backup')
    .description('copy the data into a file, while they are in use')
    .argument('<file>')
    .requiredOption('--data <dir>', 'data folder')
    .option('--key <file>', 'copy the key that secrets are sealed under into this file')
    .action((file: string, options: Options) =>
      told(async () => {
        if (!existsSync(databaseFile(options.data))) throw new CommandError(`There are no data in ${options.data}`);
        const { octets } = await backUp(options.data, path.resolve(file));
        if (options.key !== undefined) backUpKey(options.data, path.resolve(options.key));
        console.error(`${file}: ${megabytes(octets)}, looked at and whole`);
        if (options.key === undefined)
          console.error('Stored secrets in it are sealed: keep the key file too (--key), in another place');
      }),
    );
}

const lookMs = 200;
const patienceMs = 120_000;

/** Waits until whoever serves the folder has taken what was laid there. */
async function untilTaken(folder: string): Promise<void> {
  const until = Date.now() + patienceMs;
  let whyNot = restoreOutcome(folder);
  for (; whyNot === null; whyNot = restoreOutcome(folder)) {
    if (Date.now() > until)
      throw new CommandError('What serves the folder has not taken it: look at its log', exitCodes.failed);
    await new Promise((resolve) => setTimeout(resolve, lookMs));
  }
  if (whyNot !== '')
    throw new CommandError(`It was not restored, and what there was stays: ${whyNot}`, exitCodes.failed);
}

export function addRestoreCommand(program: Command): void {
  program
    .command('restore')
    .description('put a copy in the place of the data; what serves them goes on with it')
    .argument('<file>')
    .requiredOption('--data <dir>', 'data folder')
    .option('--key <file>', 'the key that its secrets are sealed under')
    .action((file: string, options: Options) =>
      told(async () => {
        const folder = path.resolve(options.data);
        expectBackup(file);
        if (options.key !== undefined) {
          readKeyFile(options.key);
          mkdirSync(folder, { recursive: true, mode: 0o700 });
          if (existsSync(keyFile(folder))) copyFileSync(keyFile(folder), `${keyFile(folder)}.before-restore`);
          copyFileSync(options.key, keyFile(folder));
          chmodSync(keyFile(folder), 0o600);
        }
        const served = isServed(folder);
        layRestore(folder, file);
        if (served) await untilTaken(folder);
        else {
          const before = takeRestore(folder);
          if (before !== null) console.error(`what there was is kept in ${before}`);
        }
        const store = openStore(folder);
        const problem = keyProblem(store);
        store.close();
        console.error(`${file} is restored${served ? ', and what serves it goes on with it' : ''}`);
        if (problem !== null) console.error(problem);
      }),
    );
}
