import type { ThingName } from '@/core/things/things';
import type { Group } from '@/core/things/grouping';

/** A problem document (RFC 9457) as an error. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: { path: string; message: string; at?: number; expected?: string }[],
  ) {
    super(detail || title);
  }

  /** What is wrong, in words: each mistake, or else what the whole says. */
  get words(): string {
    return this.errors.length > 0
      ? this.errors.map(({ message, expected }) => (expected ? `${message}; expected ${expected}` : message)).join('. ')
      : this.detail || this.title;
  }
}

/** How long until what could not be reached is asked again. */
export const againMs = 5000;

/** Whether an error takes the place of what it is about: what was read before stays on the screen while the application cannot be reached, and the foot line tells so. */
export const standsInTheWay = <Data>(error: ApiProblem | null, data: Data | undefined): error is ApiProblem =>
  error !== null && (error.status !== 0 || data === undefined);

/** One call of the API. @throws ApiProblem */
export async function call<Answer>(
  path: string,
  init: { method?: string; body?: unknown; signal?: AbortSignal } = {},
): Promise<Answer> {
  let response: Response;
  try {
    response = await fetch(`/api/v1/${path}`, {
      method: init.method ?? 'GET',
      ...(init.body instanceof Blob
        ? { body: init.body, headers: { 'content-type': init.body.type || 'application/zip' } }
        : init.body !== undefined && {
            body: JSON.stringify(init.body),
            headers: { 'content-type': 'application/json' },
          }),
      ...(init.signal && { signal: init.signal }),
    });
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error;
    throw new ApiProblem(
      0,
      'No connection',
      'The application does not answer. Is it still running? This page tries again by itself.',
      [],
    );
  }
  const text = await response.text();
  const answer = (text ? JSON.parse(text) : {}) as Answer & {
    title?: string;
    detail?: string;
    errors?: ApiProblem['errors'];
  };
  if (!response.ok) {
    if (response.status === 401 && !location.pathname.startsWith('/login'))
      location.assign(`/login?to=${encodeURIComponent(location.pathname + location.search)}`);
    throw new ApiProblem(
      response.status,
      answer.title ?? response.statusText,
      answer.detail ?? '',
      answer.errors ?? [],
    );
  }
  return answer;
}

export type Change = 'added' | 'gone' | 'changed' | 'replaced' | 'silent';
export type ThingRow = Record<string, unknown> & { id: string; change?: Change; before?: Record<string, unknown> };

export interface ThingPage {
  rows: ThingRow[];
  total: number;
  survey: number;
  against: number | null;
  counts?: Record<Change, number>;
  shares?: Record<string, { value: string; count: number }[]>;
  sharesCut?: Record<string, { values: number; rows: number }>;
  groups?: Group[];
}

export interface ThingRequest {
  survey?: string | null;
  against?: string | null;
  where?: string;
  sort?: string;
  columns?: string[];
  page?: number;
  size?: number;
  count?: string[];
  group?: string[];
  /** only so many rows, in their order */
  first?: number | null;
  format?: string;
}

/** The path of a table, without what is empty: the same text the interface shows as its request. */
export function thingPath(thing: ThingName, request: ThingRequest): string {
  const parameters = new URLSearchParams();
  for (const [name, value] of Object.entries(request)) {
    if (value === undefined || value === null || value === '' || (Array.isArray(value) && value.length === 0)) continue;
    parameters.set(name, Array.isArray(value) ? value.join(',') : String(value));
  }
  const text = parameters.toString();
  return text ? `${thing}?${text}` : thing;
}
