/** What an edit of many rows changes, or did where it has a number. */
export interface EditAnswer {
  rows: number;
  total: number;
  changes: { id: string; row: string; field: string; before: unknown; after: unknown }[];
  /** the version that was looked at, or that has it */
  version: number;
  edit?: number;
}
