import {
  contractKinds,
  contractMistakes,
  partsByKind,
  readSerials,
  serialKey,
  type Contract,
  type ContractKind,
} from './contract';
import type { FileMistake } from '../values/fileMistake';

/** What a file makes of one contract; `before` null where it is new. */
export interface ContractChange {
  before: Contract | null;
  after: Contract;
}

export interface ContractPlan {
  /** contracts the file names */
  contracts: number;
  /** those that are new or become other than they are */
  changes: ContractChange[];
  /** columns that say nothing of a contract */
  passedOver: string[];
  mistakes: FileMistake[];
}

const mostMistakes = 200;

type Column = keyof Contract;
const headings: Record<Column, string[]> = {
  number: ['number', 'contract', 'contract number'],
  kind: ['kind', 'type'],
  supplier: ['supplier'],
  level: ['level', 'service level'],
  contact: ['contact', 'call'],
  from: ['from', 'begins', 'start'],
  until: ['until', 'ends', 'end'],
  parts: ['parts', 'with its parts'],
  note: ['note', 'notes'],
  serials: ['serial', 'serials', 'serial number'],
};
const needed: Column[] = ['number', 'kind', 'until', 'serials'];
const yes = new Set(['yes', 'true', '1']);
const no = new Set(['no', 'false', '0']);

/** A contract as its lines build it up, with the line each fact is from. */
interface Draft {
  contract: Contract;
  line: number;
  said: Map<Column, { line: number; text: string }>;
  serialLines: Map<string, number>;
}

/**
 * What a table of contracts comes to: a line for each serial or a list in one cell; a contract is in as many lines as one likes, and what one of them leaves empty stands in
 * another. A contract that is named becomes what the file says of it, its serials too; those that are not named stay. Nothing is taken if anything is wrong.
 * @param head names of the columns
 * @param lines cells by line, as in the file
 * @param known contracts there are
 */
export function planContracts(
  head: string[],
  lines: { line: number; cells: string[] }[],
  known: readonly Contract[],
): ContractPlan {
  const mistakes: FileMistake[] = [];
  const add = (line: number, column: string, message: string) =>
    void (mistakes.length < mostMistakes && mistakes.push({ line, column, message }));
  const names = head.map((name) => name.trim());
  const columns = names.map(
    (name) =>
      (Object.keys(headings) as Column[]).find((column) => headings[column].includes(name.toLowerCase())) ?? null,
  );
  const passedOver = names.filter((name, at) => columns[at] === null && name !== '');
  for (const column of needed) if (!columns.includes(column)) add(1, '', `No column “${headings[column][0] ?? ''}”`);
  columns.forEach((column, at) => {
    if (column && columns.indexOf(column) !== at)
      add(1, names[at] ?? '', `says the same as “${names[columns.indexOf(column)] ?? ''}”: one of them is enough`);
  });
  if (mistakes.length > 0) return { contracts: 0, changes: [], passedOver, mistakes };

  const drafts = new Map<string, Draft>();
  const heading = (column: Column) => names[columns.indexOf(column)] ?? column;
  for (const { line, cells } of lines) {
    if (cells.length > names.length) {
      add(line, '', `has ${cells.length} cells, the head has ${names.length}`);
      continue;
    }
    const cell = (column: Column) => (columns.includes(column) ? (cells[columns.indexOf(column)] ?? '').trim() : '');
    const number = cell('number');
    if (number === '') {
      add(line, heading('number'), 'says of no contract which it is');
      continue;
    }
    let draft = drafts.get(number.toLowerCase());
    if (!draft)
      drafts.set(
        number.toLowerCase(),
        (draft = {
          contract: {
            number,
            kind: 'contract',
            supplier: '',
            level: '',
            contact: '',
            from: null,
            until: null,
            parts: true,
            note: '',
            serials: [],
          },
          line,
          said: new Map(),
          serialLines: new Map(),
        }),
      );
    takeFacts(draft, line, cell, (column, message) => add(line, heading(column), message));
    const serials = readSerials(cell('serials'));
    if (serials.length === 0) add(line, heading('serials'), 'names no serial');
    for (const serial of serials) {
      const before = draft.serialLines.get(serialKey(serial));
      if (before !== undefined)
        add(
          line,
          heading('serials'),
          before === line
            ? `${serial} is there twice`
            : `${serial} is under ${draft.contract.number} in line ${before} already`,
        );
      else {
        draft.serialLines.set(serialKey(serial), line);
        draft.contract.serials.push(serial);
      }
    }
  }
  const byNumber = new Map(known.map((contract) => [contract.number.toLowerCase(), contract]));
  const changes: ContractChange[] = [];
  for (const { contract, line, said } of drafts.values()) {
    if (!said.has('kind'))
      add(line, heading('kind'), `does not say what ${contract.number} is: ${contractKinds.join(', ')}`);
    if (!said.has('parts')) contract.parts = partsByKind(contract.kind);
    // what is wrong with the days or the serials was told at its line already
    for (const { field, message } of contractMistakes(contract))
      if (!(field === 'serials' && contract.serials.length === 0))
        add(said.get(field)?.line ?? line, heading(field), message);
    const before = byNumber.get(contract.number.toLowerCase()) ?? null;
    if (before === null || !sameContract(before, contract)) changes.push({ before, after: contract });
  }
  return {
    contracts: drafts.size,
    changes: mistakes.length > 0 ? [] : changes,
    passedOver,
    mistakes: mistakes.sort((x, y) => x.line - y.line),
  };
}

/** Takes from a line what it says of its contract. Lines of one contract may not say different things. */
function takeFacts(
  { contract, said }: Draft,
  line: number,
  cell: (column: Column) => string,
  mistake: (column: Column, message: string) => void,
): void {
  for (const column of ['kind', 'supplier', 'level', 'contact', 'from', 'until', 'parts', 'note'] as const) {
    const text = cell(column);
    if (text === '') continue;
    const before = said.get(column);
    if (before && before.text.toLowerCase() !== text.toLowerCase()) {
      mistake(column, `“${text}”, but line ${before.line} says “${before.text}” of ${contract.number}`);
      continue;
    }
    if (before) continue;
    said.set(column, { line, text });
    const lower = text.toLowerCase();
    if (column === 'kind') {
      const kind = contractKinds.find((one) => one === lower);
      if (kind) contract.kind = kind satisfies ContractKind;
      else mistake(column, `“${text}” is none of ${contractKinds.join(', ')}`);
    } else if (column === 'parts') {
      if (!yes.has(lower) && !no.has(lower)) mistake(column, `is yes or no, not “${text}”`);
      contract.parts = yes.has(lower);
    } else contract[column] = text;
  }
}

/** Whether two say the same; the order of serials says nothing. */
export function sameContract(x: Contract, y: Contract): boolean {
  const fields = ['number', 'kind', 'supplier', 'level', 'contact', 'from', 'until', 'parts', 'note'] as const;
  const serials = (contract: Contract) => contract.serials.map(serialKey).sort().join(' ');
  return fields.every((field) => x[field] === y[field]) && serials(x) === serials(y);
}

/** What differs between a contract before and after, field by field; serials by those that came and went. */
export function contractDifference({
  before,
  after,
}: ContractChange): { field: string; before: string; after: string }[] {
  if (!before) return [];
  const text = (value: unknown) =>
    value === null ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
  const fields = (
    ['number', 'kind', 'supplier', 'level', 'contact', 'from', 'until', 'parts', 'note'] as const
  ).flatMap((field) =>
    before[field] === after[field] ? [] : [{ field, before: text(before[field]), after: text(after[field]) }],
  );
  const [had, has] = [new Set(before.serials.map(serialKey)), new Set(after.serials.map(serialKey))];
  const gone = before.serials.filter((serial) => !has.has(serialKey(serial)));
  const come = after.serials.filter((serial) => !had.has(serialKey(serial)));
  return gone.length + come.length === 0
    ? fields
    : [...fields, { field: 'serials', before: gone.join(', '), after: come.join(', ') }];
}
