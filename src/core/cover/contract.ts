import { isDay } from '../values/day';

export const contractKinds = ['warranty', 'contract', 'licence'] as const;
export type ContractKind = (typeof contractKinds)[number];

/** What somebody promised for some serials, and for how long. */
export interface Contract {
  /** as it stands on paper; no two have the same */
  number: string;
  kind: ContractKind;
  supplier: string;
  /** what is promised: “part on site within 4 hours” */
  level: string;
  /** whom to call */
  contact: string;
  /** first and last day, both included; null where it has none */
  from: string | null;
  until: string | null;
  /** what a chassis holds is covered with it */
  parts: boolean;
  note: string;
  serials: string[];
}

/** Serials are one, however they are written. */
export const serialKey = (serial: string): string => serial.trim().toUpperCase();

/** What holds where nobody says: a licence is for what it names alone, everything else for what that holds too. */
export const partsByKind = (kind: ContractKind): boolean => kind !== 'licence';

const longest: Partial<Record<keyof Contract, number>> = {
  number: 80,
  supplier: 120,
  level: 200,
  contact: 200,
  note: 2000,
};
export const mostSerials = 20_000;
const longestSerial = 100;

/** What keeps a contract from being as it is written, by field. */
export function contractMistakes(contract: Contract): { field: keyof Contract; message: string }[] {
  const mistakes: { field: keyof Contract; message: string }[] = [];
  const add = (field: keyof Contract, message: string) => mistakes.push({ field, message });
  if (contract.number === '') add('number', 'A contract needs its number');
  for (const [field, most] of Object.entries(longest) as [keyof Contract, number][]) {
    const text = String(contract[field]);
    if (text.length > most) add(field, `has ${text.length} characters; ${most} at most`);
    if (field !== 'note' && /[\r\n]/.test(text)) add(field, 'is one line');
  }
  for (const field of ['from', 'until'] as const) {
    const day = contract[field];
    if (day !== null && !isDay(day)) add(field, `“${day}” is no day like 2026-11-23`);
  }
  if (
    contract.from !== null &&
    contract.until !== null &&
    isDay(contract.from) &&
    isDay(contract.until) &&
    contract.until < contract.from
  )
    add('until', `ends on ${contract.until}, before it begins on ${contract.from}`);
  if (contract.serials.length === 0) add('serials', 'names no serial: what does it cover?');
  if (contract.serials.length > mostSerials)
    add(
      'serials',
      `${contract.serials.length.toLocaleString('en')} serials; ${mostSerials.toLocaleString('en')} at most`,
    );
  const long = contract.serials.find((serial) => serial.length > longestSerial);
  if (long !== undefined) add('serials', `“${long.slice(0, 20)}…” has more than ${longestSerial} characters`);
  const split = contract.serials.find(
    (serial) => readSerials(serial).length !== 1 || readSerials(serial)[0] !== serial,
  );
  if (split !== undefined) add('serials', `“${split}” has a blank, comma or semicolon in it: name serials one by one`);
  const seen = new Set<string>();
  for (const serial of contract.serials) {
    if (seen.has(serialKey(serial))) add('serials', `${serial} is named twice`);
    seen.add(serialKey(serial));
  }
  return mistakes;
}

/** Serials as somebody writes them: separated by blanks, commas, semicolons or lines. */
export const readSerials = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);

/** How a contract is called in a line: `KS-2031, contract of Kestrane Service`. */
export const contractWords = ({ number, kind, supplier }: Pick<Contract, 'number' | 'kind' | 'supplier'>): string =>
  `${number}, ${kind}${supplier && ` of ${supplier}`}`;
