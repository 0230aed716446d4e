import { searchedAnywhere, type FilterField } from '../filter/filterField';
import { fieldOfTerm, refuseSpokenRelation } from '../filter/predicate';
import { compileValue, compileWord } from '../filter/valueTest';
import type { FilterNode, FilterTerm } from '../filter/filterNode';
import { parseMac } from '../values/mac';
import type { ColumnSource } from './column';

/** Things one step away from the rows of a table. */
export interface RelatedTable {
  fields: FilterField[];
  table: ColumnSource;
  /** @param found by row of the related table @returns by row of this one: whether one of its related rows was found */
  spread: (found: Uint8Array) => Uint8Array;
}

export interface Selecting {
  table: ColumnSource;
  fields: FilterField[];
  /** by the word that stands before the dot */
  related: Record<string, () => RelatedTable>;
}

/**
 * The rows that a filter holds, as `compileFilter` tells them one by one, but each field is asked once for each of its distinct values.
 * @returns by row: 1 where it fits
 * @throws FilterError
 */
export function selectRows(tree: FilterNode, { table, fields, related }: Selecting): Uint8Array {
  switch (tree.kind) {
    case 'all': {
      refuseSpokenRelation(tree.of, fields);
      const fits = new Uint8Array(table.size).fill(1);
      for (const node of tree.of) {
        const own = selectRows(node, { table, fields, related });
        for (let row = 0; row < fits.length; row++) fits[row] = (fits[row] ?? 0) & (own[row] ?? 0);
      }
      return fits;
    }
    case 'any': {
      const fits = new Uint8Array(table.size);
      for (const node of tree.of) {
        const own = selectRows(node, { table, fields, related });
        for (let row = 0; row < fits.length; row++) fits[row] = (fits[row] ?? 0) | (own[row] ?? 0);
      }
      return fits;
    }
    case 'not': {
      const fits = selectRows(tree.of, { table, fields, related });
      for (let row = 0; row < fits.length; row++) fits[row] = 1 - (fits[row] ?? 0);
      return fits;
    }
    case 'term':
      return selectTerm(tree, { table, fields, related });
  }
}

function selectTerm(term: FilterTerm, { table, fields, related }: Selecting): Uint8Array {
  const { field: wanted, value } = term;
  const fits = new Uint8Array(table.size);
  if (wanted === null) {
    const mac = parseMac(value);
    for (const field of fields.filter(searchedAnywhere)) {
      const column = table.column(field.name);
      const { dictionary } = column;
      // a scrap is looked for in all texts at once; a pattern, or words that are shown otherwise, are held against each
      const asKept = !term.pattern && !field.listed && !field.isSpoken && !field.shownAs;
      const found = asKept ? dictionary.containing(value) : dictionary.passing(compileWord(term, field));
      if (mac !== null && asKept)
        dictionary
          .passing((own) => own === mac || (Array.isArray(own) && own.includes(mac)))
          .forEach((passes, code) => passes && (found[code] = 1));
      if (found.includes(1)) mark(fits, column.codes, found);
    }
    return fits;
  }
  const dot = wanted.indexOf('.');
  const relation = dot > 0 ? related[wanted.slice(0, dot)]?.() : undefined;
  if (relation)
    return relation.spread(
      selectTerm(
        { ...term, field: wanted.slice(dot + 1) },
        { table: relation.table, fields: relation.fields, related: {} },
      ),
    );
  const field = fieldOfTerm(wanted, term.at, fields, Object.keys(related));
  const numbers = table.numbersOf?.(field.name);
  if (numbers) {
    const passes = compileValue(term, field);
    for (let row = 0; row < fits.length; row++) {
      const own = numbers[row] ?? 0;
      if (passes(Number.isNaN(own) ? null : own)) fits[row] = 1;
    }
    return fits;
  }
  const { dictionary, codes } = table.column(field.name);
  const plain =
    term.relation === 'contains' &&
    value !== '' &&
    !term.pattern &&
    !term.unit &&
    (field.kind === 'text' || field.kind === 'mac' || field.kind === 'address' || field.kind === 'release') &&
    !field.isSpoken &&
    !field.shownAs &&
    !(field.kind === 'mac' && parseMac(value)) &&
    !(field.kind === 'address' && value.includes('/'));
  mark(fits, codes, plain ? dictionary.containing(value) : dictionary.passing(compileValue(term, field)));
  return fits;
}

function mark(fits: Uint8Array, codes: Uint32Array, found: Uint8Array): void {
  for (let row = 0; row < fits.length; row++) if (found[codes[row] ?? 0]) fits[row] = 1;
}

/** The numbers of the rows that fit, in their order. */
export function rowsThatFit(fits: Uint8Array): Uint32Array {
  let count = 0;
  for (let row = 0; row < fits.length; row++) count += fits[row] ?? 0;
  const rows = new Uint32Array(count);
  let at = 0;
  for (let row = 0; row < fits.length; row++) if (fits[row]) rows[at++] = row;
  return rows;
}
