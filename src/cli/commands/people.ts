import { createInterface } from 'node:readline/promises';
import { Writable } from 'node:stream';
import type { Command } from 'commander';
import { nameMistake, passwordMistake } from '../../core/values/password';
import { openStore } from '../../store/base/database';
import { addPerson, roleNames, tokenRoles, type PersonRole, type TokenRole } from '../../store/people';
import { addToken } from '../../store/tokens';
import { recordAct } from '../../store/audit';
import { CommandError } from '../exit';

function role(text: string): PersonRole {
  if (!roleNames.includes(text as PersonRole)) throw new CommandError(`--role “${text}”: use ${roleNames.join(', ')}`);
  return text as PersonRole;
}

function tokenRole(text: string): TokenRole {
  if (!tokenRoles.includes(text as TokenRole)) throw new CommandError(`--role “${text}”: use ${tokenRoles.join(', ')}`);
  return text as TokenRole;
}

/** From the environment, else one line of standard input: never from the command line, where others can read it. */
async function readPassword(): Promise<string> {
  if (process.env.BOLIDE_PASSWORD !== undefined) return process.env.BOLIDE_PASSWORD;
  if (!process.stdin.isTTY) return firstLine(process.stdin);
  process.stderr.write('password: ');
  // what is typed is shown to nobody who looks over a shoulder
  const lines = createInterface({
    input: process.stdin,
    output: new Writable({ write: (_, __, done) => done() }),
    terminal: true,
  });
  const password = await lines.question('');
  lines.close();
  process.stderr.write('\n');
  return password;
}

const longestLine = 4096;

/** The first line of what is piped in, whether or not it has an end. */
async function firstLine(input: AsyncIterable<Buffer | string>): Promise<string> {
  let text = '';
  for await (const part of input) {
    text += part.toString();
    if (text.includes('\n') || text.length > longestLine) break;
  }
  return text.split(/\r?\n/, 1)[0] ?? '';
}

const already = (error: unknown, words: string): never => {
  if (/UNIQUE/.test((error as Error).message)) throw new CommandError(words);
  throw error;
};

export function addUserCommand(program: Command): void {
  program
    .command('user')
    .description('people who may sign in')
    .command('add')
    .argument('<name>')
    .requiredOption('--data <dir>', 'data folder')
    .option('--role <role>', roleNames.join(', '), role, 'viewer' as PersonRole)
    .action(async (name: string, options: { data: string; role: PersonRole }) => {
      const password = await readPassword();
      const mistake = nameMistake(name) ?? passwordMistake(password, name);
      if (mistake) throw new CommandError(mistake);
      const store = openStore(options.data);
      try {
        await addPerson(store.db, name, password, options.role).catch((error: unknown) =>
          already(error, `There is a person “${name}” already`),
        );
        recordAct(store.db, 'command line', `added ${options.role}`, name);
        console.error(`${name} may sign in as ${options.role}`);
      } finally {
        store.close();
      }
    });
}

export function addTokenCommand(program: Command): void {
  program
    .command('token')
    .description('tokens for scripts')
    .command('add')
    .argument('<name>')
    .requiredOption('--data <dir>', 'data folder')
    .option('--role <role>', tokenRoles.join(', '), tokenRole, 'viewer' as TokenRole)
    .action((name: string, options: { data: string; role: TokenRole }) => {
      const store = openStore(options.data);
      try {
        console.log(addToken(store.db, name, options.role));
        recordAct(store.db, 'command line', `added ${options.role} token`, name);
      } catch (error) {
        already(error, `There is a token “${name}” already`);
      } finally {
        store.close();
      }
    });
}
