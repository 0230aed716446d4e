import type { FieldMistake } from '../../core/estate/scope';
import type { StaleValue } from '../../store/edits/log';

/** What others wrote meanwhile: what it is now beside what would have been written, and the version that has this in it. */
export interface Conflict {
  version: number;
  values: readonly StaleValue[];
}

/** What goes wrong with a request, told as an RFC 9457 problem document. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: (FieldMistake & { at?: number; expected?: string })[] = [],
    readonly headers: Record<string, string> = {},
    readonly conflict: Conflict | null = null,
  ) {
    super(title);
  }

  response(): Response {
    const { status, title, detail, errors, conflict } = this;
    const type = `/api#${title.toLowerCase().replace(/[^a-z]+/g, '-')}`;
    return Response.json(
      { type, title, status, detail, errors, ...(conflict && { conflict }) },
      { status, headers: { 'content-type': 'application/problem+json', 'cache-control': 'no-store', ...this.headers } },
    );
  }
}

export const notFound = (what: string) => new Problem(404, 'Not found', `There is no ${what}.`);
export const invalid = (errors: Problem['errors'], detail = 'Some fields need another look.') =>
  new Problem(422, 'Invalid input', detail, errors);
