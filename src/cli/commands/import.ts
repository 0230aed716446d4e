import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import { editWords } from '../../core/own/editWords';
import { ownedThings, type OwnedThing } from '../../core/own/ownField';
import type { FileMistake } from '../../core/values/fileMistake';
import { readMakerPrefixes } from '../../core/values/makerPrefixes';
import { importWords, plannedContracts } from '../../server/cover/plannedContracts';
import { CsvError, readCsv, type CsvFile } from '../../server/files/csvFile';
import { outletImportWords, plannedOutlets } from '../../server/floor/outletRows';
import { plannedImport } from '../../server/own/planned';
import { latestSealed } from '../../store/base/sealedSurveys';
import { writeContracts } from '../../store/contracts';
import { databaseFile, openStore, type Store } from '../../store/base/database';
import { writeOutlets } from '../../store/outlets';
import { readOwnFields, writeEdit } from '../../store/ownFields';
import { recordAct } from '../../store/audit';
import { saveMakers } from '../../store/makers';
import { CommandError } from '../exit';

const who = 'command line';

/** What a file would change: in words, what is wrong with it, and how it is written. */
interface Plan {
  words: string;
  notes?: string[];
  mistakes: FileMistake[];
  /** null where nothing would change */
  write: (() => void) | null;
}

type Planner = (store: Store, file: CsvFile, name: string) => Plan;

const planners: Record<string, Planner> = {
  contracts: (store, { head, lines }, name) => {
    const { told, writes } = plannedContracts(store, latestSealed(store.db), head, lines);
    const words = importWords(told, name);
    return {
      words: `${told.contracts} contracts: ${told.added} new, ${told.changed} changed`,
      mistakes: told.mistakes,
      notes: [
        ...(told.passedOver.length > 0 ? [`columns not taken: ${told.passedOver.join(', ')}`] : []),
        ...(told.unseen.count > 0
          ? [
              `serials no survey has seen: ${told.unseen.first.join(', ')}${told.unseen.count > told.unseen.first.length ? ` and ${told.unseen.count - told.unseen.first.length} more` : ''}`,
            ]
          : []),
      ],
      write:
        writes.length === 0
          ? null
          : () => {
              writeContracts(store.db, { who, words, writes });
              recordAct(store.db, who, 'took contracts from a file', words);
            },
    };
  },
  outlets: (store, { head, lines }, name) => {
    const { told, writes } = plannedOutlets(store, latestSealed(store.db), head, lines);
    const words = outletImportWords(told, name);
    return {
      words: `${told.outlets} outlets: ${told.added} new, ${told.changed} changed`,
      mistakes: told.mistakes,
      ...(told.passedOver.length > 0 && { notes: [`columns not taken: ${told.passedOver.join(', ')}`] }),
      write:
        writes.length === 0
          ? null
          : () => {
              writeOutlets(store.db, { who, words, writes });
              recordAct(store.db, who, 'took outlets from a file', words);
            },
    };
  },
  makers: (store, { head, lines }, name) => {
    const { makers, mistakes } = readMakerPrefixes(head, lines);
    const words = `${makers.length} prefixes of makers`;
    return {
      words,
      mistakes,
      write:
        makers.length === 0
          ? null
          : () => {
              saveMakers(store.db, makers);
              recordAct(store.db, who, 'took makers from a file', `${words} from ${name}`);
            },
    };
  },
  ...Object.fromEntries(ownedThings.map((thing) => [thing, ownPlanner(thing)])),
};

function ownPlanner(thing: OwnedThing): Planner {
  return (store, { head, lines }, name) => {
    const plan = plannedImport(store, thing, latestSealed(store.db), head, lines);
    return {
      words: `${plan.rows} lines, ${plan.changes.length} values that change`,
      mistakes: plan.mistakes,
      write:
        plan.changes.length === 0
          ? null
          : () => {
              const words = `${editWords(readOwnFields(store.db), thing, plan.fields, plan.changes)} from ${name}`;
              writeEdit(store.db, { who, thing, words, changes: plan.changes });
              recordAct(store.db, who, 'took own fields from a file', words);
            },
    };
  };
}

export function addImportCommand(program: Command): void {
  const known = Object.keys(planners);
  program
    .command('import')
    .argument('<thing>', `one of ${known.join(', ')} (own fields of ${ownedThings.join(', ')})`)
    .argument('<file>', 'a CSV file, its first line naming the columns')
    .description('take a list that people keep: all of it, or nothing where a line has a mistake')
    .requiredOption('--data <dir>', 'data folder')
    .option('--dry-run', 'say what would change, and write nothing')
    .action((thing: string, file: string, options: { data: string; dryRun?: boolean }) => {
      const planner = Object.hasOwn(planners, thing) ? planners[thing] : undefined;
      if (!planner)
        throw new CommandError(`“${thing}” is nothing that can be imported: use one of ${known.join(', ')}`);
      if (!existsSync(databaseFile(options.data)))
        throw new CommandError(`--data: there is no data in “${options.data}”`);
      const table = readTable(file);
      const store = openStore(options.data);
      try {
        const { words, notes = [], mistakes, write } = planner(store, table, path.basename(file));
        if (mistakes.length > 0)
          throw new CommandError(
            [
              ...mistakes.map(({ line, column, message }) => `${file}:${line}: ${column && `${column}: `}${message}`),
              'nothing was written',
            ].join('\n'),
          );
        for (const note of notes) console.error(note);
        if (!options.dryRun) write?.();
        console.error(
          write === null
            ? `${words}; nothing to write`
            : options.dryRun
              ? `${words}; nothing is written on a dry run`
              : `${words}; written`,
        );
      } finally {
        store.close();
      }
    });
}

function readTable(file: string): CsvFile {
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    throw new CommandError(
      `“${file}” cannot be read: ${(error as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file' : (error as Error).message}`,
    );
  }
  try {
    return readCsv(text);
  } catch (error) {
    if (error instanceof CsvError)
      throw new CommandError(`${file}:${error.line}: ${error.message}\nnothing was written`);
    throw error;
  }
}
