import isEqual from 'fast-deep-equal';
import { advisoryKey, affectedWords, type Advisory } from '../../core/firmware/advisories/advisory';
import { readAdvisory } from '../../core/firmware/advisories/readAdvisories';
import { DocumentError } from '../../core/firmware/advisories/shape';
import { readAdvisories } from '../../store/advisories';
import { advisoryEdits } from '../../store/edits/advisories';
import { CsvError, type CsvFile } from '../imports/csvFile';
import { importWords, shownChanges, type ImportDomain } from '../imports/domain';

const mostDocuments = 5000;

/**
 * Documents of a file: one, a list of them, or one on each line. Each becomes a line of one cell, at the line where it begins or, of a list, by its number.
 * @throws CsvError
 */
export function readDocuments(text: string): CsvFile {
  const body = text.replace(/^\ufeff/, '').trim();
  const found =
    parsed(body, 1) ??
    body.split('\n').flatMap((line, at) => {
      if (line.trim() === '') return [];
      const one = parsed(line, at + 1);
      if (one === null) throw new CsvError(at + 1, 'This is no JSON');
      return one.map((own) => ({ ...own, line: at + 1 }));
    });
  if (found.length === 0) throw new CsvError(1, 'The file is empty');
  if (found.length > mostDocuments) throw new CsvError(1, `A file has at most ${mostDocuments} advisories`);
  return {
    head: ['advisory'],
    lines: found.map(({ content, line }) => {
      try {
        return { line, cells: [JSON.stringify(readAdvisory(content))] };
      } catch (error) {
        if (error instanceof DocumentError)
          throw new CsvError(line, [error.path, error.message].filter(Boolean).join(' '));
        throw error;
      }
    }),
  };
}

/** Null where it is no JSON. */
function parsed(text: string, line: number): { content: unknown; line: number }[] | null {
  try {
    const content = JSON.parse(text) as unknown;
    return Array.isArray(content)
      ? content.map((own: unknown, at) => ({ content: own, line: at + 1 }))
      : [{ content, line }];
  } catch {
    return null;
  }
}

/** Advisories of makers, from the documents they publish. */
export const advisoryImport: ImportDomain = {
  name: 'advisories',
  title: 'Advisories of makers',
  one: 'advisory',
  many: 'advisories',
  about:
    'A document in CSAF 2.0 or OSV, a list of them, or one on each line. An advisory that is known becomes what the document says; those that are not in it stay.',
  columns: [],
  files: 'JSON as CSAF 2.0 or OSV',
  read: readDocuments,
  now: '',
  editable: advisoryEdits,
  act: 'took advisories from a file',
  plan: (store, _survey, _head, lines, file) => {
    const known = new Map(readAdvisories(store.db).map((one) => [advisoryKey(one), one]));
    const named = new Map<string, number>();
    const mistakes: { line: number; column: string; message: string }[] = [];
    const changes = lines.flatMap(({ line, cells }) => {
      const after = JSON.parse(cells[0] ?? '') as Advisory;
      const key = advisoryKey(after);
      const first = named.get(key);
      if (first !== undefined) {
        mistakes.push({ line, column: '', message: `says again what line ${first} says: ${after.number}` });
        return [];
      }
      named.set(key, line);
      const before = known.get(key) ?? null;
      return isEqual(before, after) ? [] : [{ key: before && key, before, after }];
    });
    const added = changes.filter(({ before }) => before === null).length;
    const told = {
      named: named.size,
      added,
      changed: changes.length - added,
      same: named.size - changes.length,
      columns: ['Number', 'Publisher', 'What it is'],
      changes: changes.slice(0, shownChanges).map(({ before, after }) => ({
        cells: [after.number, after.publisher, after.title],
        isNew: before === null,
        differs: before ? differing(before, after) : [],
      })),
      notes: changes
        .filter(({ after }) => after.affects.length === 0)
        .map(({ after }) => `${after.number} names no release that is affected`),
      passedOver: [],
      mistakes,
    };
    return { told, changes: mistakes.length > 0 ? [] : changes, words: importWords(told, file) };
  },
};

const shown: Readonly<Record<string, (one: Advisory) => string>> = {
  title: ({ title }) => title,
  severity: ({ severity, score }) => `${severity}${score === null ? '' : ` ${score}`}`,
  updated: ({ updated }) => updated,
  summary: ({ summary }) => summary,
  affects: ({ affects }) => affects.map((one) => `${one.product} ${affectedWords(one)}`).join('; '),
  'mended in': ({ affects }) => affects.flatMap(({ fixed }) => fixed).join(', '),
};

const differing = (before: Advisory, after: Advisory) =>
  Object.entries(shown).flatMap(([field, of]) =>
    of(before) === of(after) ? [] : [{ field, before: of(before), after: of(after) }],
  );
