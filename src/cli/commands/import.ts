import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import { ownedThings } from '../../core/own/ownField';
import { CsvError, type CsvFile } from '../../server/imports/csvFile';
import { readTable } from '../../server/imports/listFile';
import type { FileTold, ImportDomain } from '../../server/imports/domain';
import { importNamed, importNames } from '../../server/imports/domains';
import { latestSealed } from '../../store/base/sealedSurveys';
import { databaseFile, openStore } from '../../store/base/database';
import { writeEdit } from '../../store/edits/log';
import { CommandError } from '../exit';
import { importCaptures } from '../importCaptures';

const who = 'command line';

interface ImportOptions {
  data: string;
  dryRun?: boolean;
  point?: string;
  json?: boolean;
}

export function addImportCommand(program: Command): void {
  const known = importNames.join(', ');
  program
    .command('import')
    .argument('<thing>', `one of ${known} (own fields of ${ownedThings.join(', ')}), or captures`)
    .argument(
      '<files...>',
      'a CSV file, its first line naming the columns, or a list in JSON or YAML; of advisories CSAF 2.0 or OSV; of captures any number of pcap and pcapng files',
    )
    .description('take a list that people keep: all of it, or nothing where a line has a mistake')
    .requiredOption('--data <dir>', 'data folder')
    .option('--dry-run', 'say what would change, and write nothing')
    .option('--point <name>', 'of captures: where they were captured, if not what their files are called')
    .option('--json', 'of captures: one JSON object on standard output')
    .action(async (thing: string, files: string[], options: ImportOptions) => {
      const domain = thing === 'captures' ? null : importNamed(thing);
      if (domain === undefined)
        throw new CommandError(`“${thing}” is nothing that can be imported: use one of ${known}, captures`);
      if (!existsSync(databaseFile(options.data)))
        throw new CommandError(`--data: there is no data in “${options.data}”`);
      if (domain === null) return importCaptures(files, options);
      const [file = '', ...more] = files;
      if (more.length > 0) throw new CommandError(`one file of ${thing} at a time: ${more.join(', ')} were not read`);
      const { head, lines } = readFile(file, domain.read ?? readTable);
      const store = openStore(options.data);
      try {
        const planned = domain.plan(store, latestSealed(store.db), head, lines, path.basename(file));
        refuseMistakes(file, planned.told);
        for (const note of notesOf(planned.told)) console.error(note);
        const { changes, words } = planned;
        if (changes.length > 0 && !options.dryRun)
          writeEdit(store.db, domain.editable, { who, act: domain.act, words, changes });
        console.error(`${foundWords(domain, planned.told)}; ${endWords(changes.length, options.dryRun ?? false)}`);
      } finally {
        store.close();
      }
    });
}

function refuseMistakes(file: string, { mistakes }: FileTold): void {
  if (mistakes.length === 0) return;
  const lines = mistakes.map(({ line, column, message }) => `${file}:${line}: ${column && `${column}: `}${message}`);
  throw new CommandError([...lines, 'nothing was written'].join('\n'));
}

const notesOf = ({ notes, passedOver }: FileTold): string[] => [
  ...(passedOver.length > 0 ? [`columns not taken: ${passedOver.join(', ')}`] : []),
  ...notes,
];

/** What the file holds: `12 contracts: 3 new, 1 changed`. */
function foundWords({ one, many }: ImportDomain, { named, added, changed, same }: FileTold): string {
  // a file of values names rows
  const [single, several] = same === null ? ['line', 'lines'] : [one, many];
  return `${named} ${named === 1 ? single : several}: ${added} new, ${changed} changed`;
}

function endWords(changes: number, isDry: boolean): string {
  if (changes === 0) return 'nothing to write';
  return isDry ? 'nothing is written on a dry run' : 'written';
}

function readFile(file: string, read: (text: string) => CsvFile): CsvFile {
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    throw new CommandError(
      `“${file}” cannot be read: ${(error as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file' : (error as Error).message}`,
    );
  }
  try {
    return read(text);
  } catch (error) {
    if (error instanceof CsvError)
      throw new CommandError(`${file}:${error.line}: ${error.message}\nnothing was written`);
    throw error;
  }
}
