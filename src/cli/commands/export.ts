import { createWriteStream, existsSync } from 'node:fs';
import { Readable, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Command } from 'commander';
import { FilterError } from '../../core/filter/filterNode';
import { withOwnFields } from '../../core/own/ownField';
import { thingNames, things, type ThingName } from '../../core/things/things';
import { tableFormats, type TableFormat } from '../../deliver/table';
import { exportParts } from '../../server/query/thread/answers';
import { surveyNumber } from '../../server/query/calendar';
import { databaseFile, openStore } from '../../store/base/database';
import { readOwnFields } from '../../store/ownFields';
import { CommandError } from '../exit';

interface ExportOptions {
  data: string;
  survey: string;
  against?: string;
  where: string;
  columns?: string;
  format: string;
  out?: string;
}

export function addExportCommand(program: Command): void {
  program
    .command('export')
    .argument('<thing>', `one of ${thingNames.join(', ')}`)
    .description('write a table as the interface shows it')
    .requiredOption('--data <dir>', 'data folder')
    .option('--survey <id>', 'survey looked at', 'latest')
    .option('--against <id>', 'survey compared with')
    .option('--where <filter>', 'filter, as in the interface', '')
    .option('--columns <names>', 'fields, separated by commas')
    .option('--format <format>', tableFormats.join(', '), 'json')
    .option('--out <file>', 'file to write instead of standard output')
    .action(exportCommand);
}

async function exportCommand(thing: string, options: ExportOptions): Promise<void> {
  if (!thingNames.includes(thing as ThingName))
    throw new CommandError(`“${thing}” is nothing that can be exported: use one of ${thingNames.join(', ')}`);
  const name = thing as ThingName;
  if (!tableFormats.includes(options.format as TableFormat))
    throw new CommandError(`--format “${options.format}”: use ${tableFormats.join(', ')}`);
  if (!existsSync(databaseFile(options.data))) throw new CommandError(`--data: there is no data in “${options.data}”`);
  const store = openStore(options.data);
  try {
    const columns = options.columns?.split(',').map((column) => column.trim());
    const known = new Set([
      ...things[name].script,
      ...withOwnFields(name, readOwnFields(store.db)).map((field) => field.name),
    ]);
    const unknown = columns?.filter((column) => !known.has(column)) ?? [];
    if (unknown.length > 0)
      throw new CommandError(`--columns: ${thing} have no field ${unknown.map((column) => `“${column}”`).join(', ')}`);
    const survey = surveyNumber(store.db, options.survey);
    if (survey === null) throw new CommandError(`--survey: there is no sealed survey “${options.survey}”`);
    const against = options.against === undefined ? null : surveyNumber(store.db, options.against);
    if (options.against !== undefined && against === null)
      throw new CommandError(`--against: there is no sealed survey “${options.against}”`);
    const parts = exportParts(store, {
      thing: name,
      wanted: { survey, against, where: options.where, sort: [] },
      format: options.format as TableFormat,
      columns,
    });
    await pipeline(Readable.from(parts), options.out === undefined ? new Unclosed() : createWriteStream(options.out));
  } catch (error) {
    if (error instanceof FilterError)
      throw new CommandError(`--where: ${error.message}, at character ${error.at + 1}; expected ${error.expected}`);
    throw error;
  } finally {
    store.close();
  }
}

/** Standard output, which stays open when a table was written to it. */
class Unclosed extends Writable {
  override _write(part: string | Buffer, _encoding: BufferEncoding, done: (error?: Error | null) => void): void {
    process.stdout.write(part, done);
  }
}
