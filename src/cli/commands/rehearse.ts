import { existsSync } from 'node:fs';
import type { Command } from 'commander';
import { rehearsalOf } from '../../server/dependencies/rehearsal';
import { suspicionOf } from '../../server/dependencies/suspicion';
import { surveyNumber } from '../../server/query/calendar';
import { databaseFile, openStore, type Store } from '../../store/base/database';
import { CommandError } from '../exit';

interface Options {
  data: string;
  down: string[];
  survey: string;
  json?: boolean;
}

const named = (text: string): string[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);
const downWords =
  'names of devices, machines, services, endpoints or applications, MACs or addresses; device:NUMBER, site:CODE, group:NAME or a network, separated by commas';

export function addRehearseCommand(program: Command): void {
  program
    .command('rehearse')
    .description('what is lost, what only loses its spare, and what is untouched, if some things go down')
    .requiredOption('--data <dir>', 'data folder')
    .requiredOption('--down <names>', downWords, named)
    .option('--survey <id>', 'as of this survey', 'latest')
    .option('--json', 'one JSON object on standard output')
    .action((options: Options) =>
      withStore(options, (store, survey) => {
        const answer = rehearsalOf(store, survey, options.down);
        if ('mistakes' in answer) throw new CommandError(`--down: ${answer.mistakes.join('; ')}`);
        if (options.json) {
          print(answer);
          return;
        }
        const { lost, degraded, untouched } = answer;
        for (const [title, rows] of [
          ['lost', lost],
          ['degraded', degraded],
        ] as const) {
          process.stdout.write(`${title}: ${rows.length}\n`);
          for (const { kind, name, why } of rows) process.stdout.write(`  ${kind} ${name}: ${why}\n`);
        }
        process.stdout.write(
          `untouched: ${untouched.devices} devices, ${untouched.endpoints} endpoints, ${untouched.machines} machines, ${untouched.services} services, ${untouched.applications} applications\n`,
        );
      }),
    );
}

export function addSuspectsCommand(program: Command): void {
  program
    .command('suspects')
    .description('ranked common causes of what is down')
    .requiredOption('--data <dir>', 'data folder')
    .requiredOption('--down <names>', downWords, named)
    .option('--slow <names>', 'what goes on, but badly', named)
    .option('--survey <id>', 'as of this survey', 'latest')
    .option('--json', 'one JSON array on standard output')
    .action((options: Options & { slow?: string[] }) =>
      withStore(options, (store, survey) => {
        const answer = suspicionOf(store, survey, options.down, options.slow);
        if ('mistakes' in answer) throw new CommandError(`--down: ${answer.mistakes.join('; ')}`);
        if (options.json) {
          print(answer.rows);
          return;
        }
        for (const { kind, name, score, why, next } of answer.rows)
          process.stdout.write(`${score.toFixed(2)}  ${kind} ${name}: ${why}\n      ${next}\n`);
      }),
    );
}

function withStore(options: Options, run: (store: Store, survey: number) => void): void {
  if (options.down.length === 0) throw new CommandError('--down: name at least one thing');
  if (!existsSync(databaseFile(options.data))) throw new CommandError(`--data: there is no data in “${options.data}”`);
  const store = openStore(options.data);
  try {
    const survey = surveyNumber(store.db, options.survey);
    if (survey === null) throw new CommandError(`--survey: there is no sealed survey “${options.survey}”`);
    run(store, survey);
  } finally {
    store.close();
  }
}

const print = (answer: object): void => {
  process.stdout.write(`${JSON.stringify(answer)}\n`);
};
