import { existsSync, readFileSync } from 'node:fs';
import { InvalidArgumentError, type Command } from 'commander';
import { FilterError } from '../../core/filter/filterNode';
import { WindowsError } from '../../core/firmware/waves/windows';
import { atOnce } from '../../core/steps';
import { UnknownApplication, wavesAt, type ToldWaves } from '../../server/firmware/waves';
import { usualCrew, usualMinutes } from '../../server/firmware/waveRoutes';
import { surveyNumber } from '../../server/query/calendar';
import { databaseFile, openStore } from '../../store/base/database';
import { CommandError } from '../exit';

interface Options {
  data: string;
  where: string;
  windows: string;
  zone: string;
  crew: number;
  perSite?: number;
  minutes: number;
  mayStop: string[];
  survey: string;
  json?: boolean;
}

const whole = (text: string): number => {
  const number = Number(text);
  if (!/^\d{1,6}$/.test(text) || number < 1) throw new InvalidArgumentError('a whole number from 1 is expected');
  return number;
};
const named = (text: string): string[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);

export function addWavesCommand(program: Command): void {
  program
    .command('waves')
    .description(
      'which devices may be away at the same time, and when: no wave takes away what none of its devices takes away by itself',
    )
    .requiredOption('--data <dir>', 'data folder')
    .requiredOption('--windows <file>', 'when one may work: iCalendar, or a list [{"start": …, "end": …}] in JSON')
    .option('--where <filter>', 'which devices; without it all that have a target', '')
    .option('--zone <name>', 'the time zone of times that name none', 'UTC')
    .option('--crew <n>', 'so many devices at the same time', whole, usualCrew)
    .option('--per-site <n>', 'so many of a site at the same time; as many as the crew', whole)
    .option('--minutes <n>', 'how long a device is away', whole, usualMinutes)
    .option('--may-stop <names>', 'applications that may be stopped, with commas', named, [])
    .option('--survey <id>', 'as of this survey', 'latest')
    .option('--json', 'one JSON object on standard output')
    .action((options: Options) => {
      if (!existsSync(databaseFile(options.data)))
        throw new CommandError(`--data: there is no data in “${options.data}”`);
      const windows = readFile(options.windows);
      const store = openStore(options.data);
      try {
        const survey = surveyNumber(store.db, options.survey);
        if (survey === null) throw new CommandError(`--survey: there is no sealed survey “${options.survey}”`);
        const { where, zone, crew, perSite = crew, minutes, mayStop } = options;
        const told = atOnce(
          wavesAt(store, survey, { where, windows, zone, crew, perSite, minutes, mayStop, from: Date.now() }),
        );
        process.stdout.write(options.json ? `${JSON.stringify(told)}\n` : wordsOf(told));
      } catch (error) {
        if (error instanceof FilterError) throw new CommandError(`--where: ${error.message}`);
        if (error instanceof WindowsError) throw new CommandError(`--windows: ${error.message}`);
        if (error instanceof UnknownApplication) throw new CommandError(`--may-stop: ${error.message}`);
        throw error;
      } finally {
        store.close();
      }
    });
}

function readFile(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new CommandError(`--windows: “${file}” ${code === 'ENOENT' ? 'is no file' : `cannot be read (${code})`}`);
  }
}

function wordsOf({ waves, unplaced, minutes, leastMinutes }: ToldWaves): string {
  const lines = waves.flatMap(({ start, end, placed }, nth) => [
    `wave ${nth + 1}: ${start.slice(0, 16).replace('T', ' ')} to ${end.slice(11, 16)} UTC`,
    ...placed.map(
      ({ device, why, first }) =>
        `  ${device}${[...first.map((one) => `first: ${one}`), ...why].map((one) => `; ${one}`).join('')}`,
    ),
  ]);
  const left = unplaced.map(({ device, why }) => `  ${device}: ${why}`);
  return [
    ...lines,
    ...(left.length > 0 ? [`no place for ${left.length}:`, ...left] : []),
    `${minutes} minutes of work; fewer than ${leastMinutes} cannot be`,
    '',
  ].join('\n');
}
