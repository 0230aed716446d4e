import type { Command } from 'commander';
import { recordAct } from '../../store/audit';
import { openStore } from '../../store/base/database';
import { newKey, rotateKey } from '../../store/keyring';
import { NoKey } from '../../store/vault';
import { CommandError, exitCodes } from '../exit';

interface Options {
  data: string;
  forgetSecrets?: boolean;
}

const secretsOf = (count: number): string => (count === 1 ? 'one secret' : `${count} secrets`);

/** The key that secrets are sealed under. */
export function addKeyCommand(program: Command): void {
  const key = program.command('key').description('the key that stored secrets are sealed under');
  key
    .command('rotate')
    .description('seal all secrets under a new key; people sign in anew')
    .requiredOption('--data <dir>', 'data folder')
    .action(({ data }: Options) => {
      const store = openStore(data);
      try {
        const count = rotateKey(store);
        recordAct(store.db, 'command line', 'sealed secrets under a new key', secretsOf(count));
        console.error(`${secretsOf(count)} sealed under a new key; keep the new file, the one before opens nothing`);
      } catch (error) {
        if (error instanceof NoKey) throw new CommandError(error.message, exitCodes.failed);
        throw error;
      } finally {
        store.close();
      }
    });
  key
    .command('new')
    .description('another key, where the one before is lost')
    .requiredOption('--data <dir>', 'data folder')
    .option('--forget-secrets', 'take away what is sealed under the one before')
    .action(({ data, forgetSecrets }: Options) => {
      if (!forgetSecrets)
        throw new CommandError(
          'What is sealed under the key before is lost with it: say --forget-secrets if it shall be',
        );
      const store = openStore(data);
      try {
        const count = newKey(store);
        recordAct(store.db, 'command line', 'made another key', `${secretsOf(count)} taken away`);
        console.error(`another key is made; ${secretsOf(count)} taken away: enter the credentials anew`);
      } finally {
        store.close();
      }
    });
}
