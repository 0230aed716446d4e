/** The filter language as a tree. `field: null` means anywhere in the row. */
export type FilterNode =
  | { kind: 'all'; of: FilterNode[] }
  | { kind: 'any'; of: FilterNode[] }
  | { kind: 'not'; of: FilterNode }
  | FilterTerm;

export interface FilterTerm {
  kind: 'term';
  field: string | null;
  relation: Relation;
  value: string;
  /** each `*` of the value stands for any letters, none included */
  pattern?: true;
  /** a unit that stood apart from its number; only fields that are measured have one */
  unit?: { word: string; at: number };
  at: number;
}

export type Relation = 'contains' | '=' | '!=' | '>' | '>=' | '<' | '<=';

/** A mistake with its place in the text and what was expected there. */
export class FilterError extends Error {
  constructor(
    message: string,
    readonly at: number,
    readonly expected: string,
  ) {
    super(message);
    this.name = 'FilterError';
  }
}
