import type * as yup from 'yup';
import type { FileMistake } from '../values/fileMistake';
import { parseQuantity } from '../values/quantity';
import { completeRelease, releaseSchema, type CatalogueRelease, type ToldRelease } from './catalogue';
import { componentKinds, type ComponentKind } from './components';

/** What a file makes of one entry; `before` null where it is new. */
export interface ReleaseChange {
  before: CatalogueRelease | null;
  after: CatalogueRelease;
}

export interface ReleasePlan {
  /** releases the file names */
  named: number;
  changes: ReleaseChange[];
  passedOver: string[];
  mistakes: FileMistake[];
}

const mostMistakes = 200;

type Column = keyof CatalogueRelease;
type Reading = (text: string) => unknown;
/** A cell that says what it is of, and is none of it. */
class Unreadable extends Error {
  override name = 'Unreadable';
}

const plain: Reading = (text) => text.trim();
const orNone: Reading = (text) => text || null;
const size: Reading = (text) => {
  if (text === '') return null;
  const bytes = parseQuantity(text, 'bytes');
  if (bytes === null) throw new Unreadable('a size like 512M or 2G');
  return bytes;
};
/** Several values: with commas or semicolons between them, or each on a line of its own as lists in JSON and YAML come. */
const list: Reading = (text) =>
  text
    .split(text.includes('\n') ? '\n' : /[;,]/)
    .map((one) => one.trim())
    .filter(Boolean);
const pairs =
  (first: string, second: string): Reading =>
  (text) =>
    (list(text) as string[]).map((one) => {
      const at = one.lastIndexOf('=');
      if (at < 1 || at === one.length - 1) throw new Unreadable(`as ${first} = ${second}, with commas between several`);
      return { [first]: one.slice(0, at).trim(), [second]: one.slice(at + 1).trim() };
    });

/** By field: how its column may be headed, and how a cell is read. */
const columns: Record<Column, { heads: string[]; read: Reading; about: string }> = {
  vendor: { heads: ['vendor', 'maker'], read: plain, about: '' },
  family: { heads: ['family', 'product', 'model'], read: plain, about: 'of a part: its model' },
  component: {
    heads: ['component'],
    read: (text) => text || 'system',
    about: `one of ${componentKinds.join(', ')}; the system where it is empty`,
  },
  release: { heads: ['release', 'version'], read: plain, about: '' },
  published: { heads: ['published', 'date'], read: plain, about: 'a day, as 2026-11-23' },
  kind: {
    heads: ['kind'],
    read: (text) => text || 'maintenance',
    about: 'feature, maintenance, security or urgent fix',
  },
  status: { heads: ['status'], read: (text) => text || 'supported', about: 'suggested, supported, withdrawn or ended' },
  ends: { heads: ['ends', 'end of engineering'], read: orNone, about: 'a day' },
  minimumMemoryBytes: { heads: ['memory', 'minimummemorybytes'], read: size, about: 'at least, as 512M' },
  minimumFlashBytes: { heads: ['flash', 'minimumflashbytes'], read: size, about: 'all together at least, as 256M' },
  neededFlashBytes: { heads: ['free flash', 'neededflashbytes'], read: size, about: 'as 96M' },
  minimumFrom: {
    heads: ['from', 'minimumfrom'],
    read: orNone,
    about: 'the lowest release from which one may go directly',
  },
  through: { heads: ['through', 'by way of'], read: list, about: 'releases that must be run on the way' },
  minimumBoot: { heads: ['boot code', 'minimumboot'], read: orNone, about: 'at least' },
  excludedModels: { heads: ['not for', 'excludedmodels'], read: list, about: 'models' },
  hardware: { heads: ['hardware'], read: pairs('model', 'revision'), about: 'at least, as K-Access 24 = B2' },
  others: {
    heads: ['others', 'other parts'],
    read: pairs('component', 'release'),
    about: 'at least, as boot code = 3.1',
  },
  needsCover: {
    heads: ['needs cover', 'needscover'],
    read: (text) => {
      if (/^(yes|true|1)$/i.test(text)) return true;
      if (/^(no|false|0|)$/i.test(text)) return false;
      throw new Unreadable('yes or no');
    },
    about: 'yes where only who has cover may have it',
  },
  image: { heads: ['image', 'file'], read: plain, about: 'the name of its file' },
  imageBytes: { heads: ['image size', 'imagebytes'], read: size, about: '' },
  imageHash: { heads: ['sha-256', 'sha256', 'imagehash'], read: (text) => text.toLowerCase(), about: 'of the image' },
  fixes: { heads: ['fixes', 'mends'], read: list, about: 'advisories or words' },
};
const needed: Column[] = ['vendor', 'family', 'release', 'published'];
const fields = Object.keys(columns) as Column[];

/** Columns of such a file, as they are told to people. */
export const releaseColumns = fields.map((field) => ({
  name: columns[field].heads[0] ?? field,
  isNeeded: needed.includes(field),
  about: columns[field].about,
}));

/**
 * What a table of releases comes to, a line for each. A release that is named becomes what the file says of it: what it leaves empty is empty then, and a column it does not have stays as it is. Releases that are not named stay.
 * Nothing is taken if anything is wrong.
 */
export function planReleases(
  head: string[],
  lines: { line: number; cells: string[] }[],
  known: readonly CatalogueRelease[],
): ReleasePlan {
  const mistakes: FileMistake[] = [];
  const add = (line: number, column: string, message: string) =>
    void (mistakes.length < mostMistakes && mistakes.push({ line, column, message }));
  const names = head.map((name) => name.trim());
  const fieldAt = names.map(
    (name) => fields.find((field) => columns[field].heads.includes(name.toLowerCase())) ?? null,
  );
  const passedOver = names.filter((name, at) => fieldAt[at] === null && name !== '');
  for (const field of needed)
    if (!fieldAt.includes(field)) add(1, '', `No column “${columns[field].heads[0] ?? field}”`);
  fieldAt.forEach((field, at) => {
    if (field && fieldAt.indexOf(field) !== at)
      add(1, names[at] ?? '', `says the same as “${names[fieldAt.indexOf(field)] ?? ''}”: one of them is enough`);
  });
  if (mistakes.length > 0) return { named: 0, changes: [], passedOver, mistakes };

  const keyOf = (vendor: unknown, family: unknown, component: unknown, release: unknown) =>
    [vendor, family, component, release].join('\t');
  const byKey = new Map(known.map((one) => [keyOf(one.vendor, one.family, one.component, one.release), one]));
  const named = new Map<string, number>();
  const changes: ReleaseChange[] = [];
  for (const { line, cells } of lines) {
    if (cells.length > names.length) {
      add(line, '', `has ${cells.length} cells, the head has ${names.length}`);
      continue;
    }
    const told = readCells(fieldAt, cells, (at, message) => add(line, names[at] ?? '', message));
    if (told === null) continue;
    const component = (told.component as ComponentKind | undefined) ?? 'system';
    const key = keyOf(told.vendor, told.family, component, told.release);
    const before = byKey.get(key) ?? null;
    const after = { ...(before ?? {}), ...told };
    const wrong = mistakesOf(after);
    for (const { path, message } of wrong) {
      const at = fieldAt.findIndex((field) => field !== null && (path === field || path.startsWith(`${field}[`)));
      add(line, names[at] ?? '', message);
    }
    const first = named.get(key);
    if (first !== undefined) add(line, '', `names the same release as line ${first}`);
    named.set(key, first ?? line);
    if (wrong.length === 0) changes.push({ before, after: completeRelease(after as ToldRelease) });
  }
  return {
    named: named.size,
    changes:
      mistakes.length > 0 ? [] : changes.filter(({ before, after }) => !before || differing(before, after).length > 0),
    passedOver,
    mistakes,
  };
}

/** @returns null where a cell cannot be read, which is told */
function readCells(
  fieldAt: readonly (Column | null)[],
  cells: readonly string[],
  tell: (at: number, message: string) => void,
): Partial<Record<Column, unknown>> | null {
  const told: Partial<Record<Column, unknown>> = {};
  let isRight = true;
  fieldAt.forEach((field, at) => {
    if (field === null) return;
    try {
      // what ends with a line is a list
      told[field] = columns[field].read((cells[at] ?? '').replace(/^[ \t]+|[ \t]+$/g, ''));
    } catch (error) {
      if (!(error instanceof Unreadable)) throw error;
      isRight = false;
      tell(at, `“${(cells[at] ?? '').trim()}” is not ${error.message}`);
    }
  });
  return isRight ? told : null;
}

function mistakesOf(told: unknown): { path: string; message: string }[] {
  const whole = {
    minimumMemoryBytes: null,
    neededFlashBytes: null,
    minimumFrom: null,
    minimumBoot: null,
    excludedModels: [],
    image: '',
  };
  try {
    releaseSchema.validateSync({ ...whole, ...(told as object) }, { abortEarly: false, strict: true });
    return [];
  } catch (error) {
    const { inner, message, path = '' } = error as yup.ValidationError;
    return inner.length > 0
      ? inner.map((one) => ({ path: one.path ?? '', message: one.message }))
      : [{ path, message }];
  }
}

/** Fields in which two entries are not alike. */
export const differing = (one: CatalogueRelease, other: CatalogueRelease): Column[] =>
  fields.filter((field) => JSON.stringify(one[field]) !== JSON.stringify(other[field]));
