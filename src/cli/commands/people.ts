import { existsSync } from 'node:fs';
import { createInterface } from 'node:readline/promises';
import { Writable } from 'node:stream';
import type { Command } from 'commander';
import { areaNames, type Area } from '../../core/people/areas';
import { nameMistake, passwordMistake, usualPassword } from '../../core/values/password';
import { databaseFile, openStore, type Store } from '../../store/base/database';
import {
  addPerson,
  changePerson,
  givePassword,
  listPeople,
  PersonMistake,
  roleNames,
  tokenRoles,
  type ListedPerson,
  type PersonRole,
  type TokenRole,
} from '../../store/people';
import { endSessions, sessionsOf } from '../../store/sessions';
import { addToken, listTokens, revokeToken } from '../../store/tokens';
import { recordAct } from '../../store/audit';
import { isUsual } from '../../store/usualPasswords';
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

const who = 'command line';
interface InFolder {
  data: string;
}

/** Does something with the store of a data folder. @param mayBeNew whether one is made where there is none */
async function inStore<Result>(
  { data }: InFolder,
  work: (store: Store) => Result | Promise<Result>,
  mayBeNew = false,
): Promise<Result> {
  if (!mayBeNew && !existsSync(databaseFile(data))) throw new CommandError(`There are no data in ${data}`);
  const store = openStore(data);
  try {
    return await work(store);
  } finally {
    store.close();
  }
}

function personNamed({ db }: Store, name: string): ListedPerson {
  const people = listPeople(db);
  const found = people.find((one) => one.name === name);
  if (found) return found;
  const known = people.map((one) => `“${one.name}”`).join(', ');
  throw new CommandError(`There is no person “${name}”: ${known ? `there are ${known}` : 'there is nobody yet'}`);
}

async function goodPassword(name: string): Promise<string> {
  const password = await readPassword();
  const mistake = passwordMistake(password, name) ?? ((await isUsual(password)) ? usualPassword : null);
  if (mistake) throw new CommandError(mistake);
  return password;
}

/** What a program of the old days would align with tabs: columns as wide as what stands in them. */
function printTable(rows: readonly (readonly string[])[]): void {
  const widths = (rows[0] ?? []).map((_, column) => Math.max(...rows.map((row) => row[column]?.length ?? 0)));
  for (const row of rows)
    console.log(
      row
        .map((cell, column) => cell.padEnd(widths[column] ?? 0))
        .join('  ')
        .trimEnd(),
    );
}

export function addUserCommand(program: Command): void {
  const user = program.command('user').description('people who may sign in');
  const command = (name: string, description: string) =>
    user.command(name).description(description).requiredOption('--data <dir>', 'data folder');

  const change = (name: string, data: InFolder, what: Parameters<typeof changePerson>[2], act: string, told: string) =>
    inStore(data, (store) => {
      const { id } = personNamed(store, name);
      try {
        changePerson(store.db, id, what);
      } catch (error) {
        if (error instanceof PersonMistake) throw new CommandError(error.message);
        throw error;
      }
      recordAct(store.db, who, act, what.name ?? name);
      console.error(told);
    });

  command('list', 'who may sign in').action((options: InFolder) =>
    inStore(options, ({ db }) =>
      printTable([
        ['name', 'role', 'since', 'signed in', 'may'],
        ...listPeople(db).map((one) => [
          one.name,
          one.role,
          one.createdAt.slice(0, 10),
          String(sessionsOf(db, one.id).length),
          one.disabledAt === null ? 'sign in' : 'not sign in',
        ]),
      ]),
    ),
  );
  command('add', 'add a person; the password comes by standard input')
    .argument('<name>')
    .option('--role <role>', roleNames.join(', '), role, 'viewer' as PersonRole)
    .action(async (name: string, options: InFolder & { role: PersonRole }) => {
      const wrong = nameMistake(name);
      if (wrong) throw new CommandError(wrong);
      const password = await goodPassword(name);
      await inStore(
        options,
        async (store) => {
          await addPerson(store.db, name, password, options.role).catch((error: unknown) =>
            already(error, `There is a person “${name}” already`),
          );
          recordAct(store.db, who, `added ${options.role}`, name);
          console.error(`${name} may sign in as ${options.role}`);
        },
        true,
      );
    });
  command('disable', 'somebody may not sign in any more')
    .argument('<name>')
    .action((name: string, options: InFolder) =>
      change(name, options, { disabled: true }, 'disabled', `${name} may not sign in any more`),
    );
  command('enable', 'somebody may sign in again')
    .argument('<name>')
    .action((name: string, options: InFolder) =>
      change(name, options, { disabled: false }, 'enabled', `${name} may sign in again`),
    );
  command('rename', 'somebody is called otherwise')
    .argument('<name>')
    .argument('<new>')
    .action((name: string, next: string, options: InFolder) => {
      const wrong = nameMistake(next);
      if (wrong) throw new CommandError(wrong);
      return change(name, options, { name: next }, `renamed ${name}`, `${name} is called ${next}`);
    });
  command('role', 'what somebody may')
    .argument('<name>')
    .argument('<role>', roleNames.join(', '))
    .action((name: string, next: string, options: InFolder) => {
      const given = role(next);
      return change(name, options, { role: given }, `made ${given}`, `${name} may sign in as ${given}`);
    });
  command('password', 'another password for somebody; it comes by standard input')
    .argument('<name>')
    .option('--once', 'the next sign-in begins with choosing another')
    .action(async (name: string, options: InFolder & { once?: boolean }) => {
      await inStore(options, (store) => personNamed(store, name));
      const password = await goodPassword(name);
      await inStore(options, async (store) => {
        await givePassword(store.db, personNamed(store, name).id, password, options.once ?? false);
        recordAct(store.db, who, 'gave a new password', name);
        console.error(`${name} has another password, and is signed in nowhere any more`);
      });
    });
  command('sign-out', 'somebody is signed in nowhere any more')
    .argument('<name>')
    .action((name: string, options: InFolder) =>
      inStore(options, (store) => {
        const ended = endSessions(store.db, personNamed(store, name).id);
        recordAct(store.db, who, 'signed out everywhere', name);
        console.error(`${name}: ${ended} ${ended === 1 ? 'session' : 'sessions'} ended`);
      }),
    );
}

const area = (text: string, before: Area[] = []): Area[] => {
  if (!areaNames.includes(text as Area)) throw new CommandError(`--area “${text}”: use ${areaNames.join(', ')}`);
  return [...before, text as Area];
};

function day(text: string): string {
  if (!/^\d{4}-\d\d-\d\d$/.test(text) || Number.isNaN(Date.parse(text)))
    throw new CommandError(`--until “${text}”: write the day like 2026-12-31`);
  return text;
}

export function addTokenCommand(program: Command): void {
  const token = program.command('token').description('tokens for scripts');
  const command = (name: string, description: string) =>
    token.command(name).description(description).requiredOption('--data <dir>', 'data folder');

  command('list', 'what opens the API').action((options: InFolder) =>
    inStore(options, ({ db }) =>
      printTable([
        ['token', 'role', 'opens', 'until', 'used last'],
        ...listTokens(db).map((one) => [
          one.name,
          one.role,
          one.areas?.join(',') ?? 'all',
          one.expiresOn ?? 'no end',
          one.usedAt ?? 'never',
        ]),
      ]),
    ),
  );
  command('add', 'make a token; its text is printed this once')
    .argument('<name>')
    .option('--role <role>', tokenRoles.join(', '), tokenRole, 'viewer' as TokenRole)
    .option('--area <part>', `${areaNames.join(', ')}; may be given again`, area)
    .option('--until <day>', 'its last day, like 2026-12-31', day)
    .action((name: string, options: InFolder & { role: TokenRole; area?: Area[]; until?: string }) =>
      inStore(
        options,
        (store) => {
          const { role: given, area: areas = null, until: expiresOn = null } = options;
          try {
            console.log(addToken(store.db, { name, role: given, areas, expiresOn }));
          } catch (error) {
            already(error, `There is a token “${name}” already`);
          }
          recordAct(store.db, who, `added ${given} token`, name);
        },
        true,
      ),
    );
  command('revoke', 'a token opens nothing any more')
    .argument('<name>')
    .action((name: string, options: InFolder) =>
      inStore(options, (store) => {
        const found = listTokens(store.db).find((one) => one.name === name);
        if (!found || revokeToken(store.db, found.id) === null) throw new CommandError(`There is no token “${name}”`);
        recordAct(store.db, who, 'revoked a token', name);
        console.error(`${name} opens nothing any more`);
      }),
    );
}
