import { isUnattended } from './attended';
import type { ThingName } from '@/core/things/things';
import type { Group } from '@/core/things/grouping';

/** What others wrote meanwhile, beside what would have been written; the version is that which has it. */
export interface Conflict {
  version: number;
  values: { key: string; field: string; called: string; mine: unknown; now: unknown; who: string; at: string }[];
}

/** A problem document (RFC 9457) as an error. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: { path: string; message: string; at?: number; expected?: string }[],
    readonly conflict: Conflict | null = null,
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

interface CallInit {
  method?: string;
  body?: unknown;
  signal?: AbortSignal;
  /** the version in which what is written over was seen: what others wrote since is not written over */
  seen?: number | null;
}

function bodyOf(body: unknown): { body?: BodyInit; type?: string } {
  if (body === undefined) return {};
  if (body instanceof Blob) return { body, type: body.type || 'application/zip' };
  return { body: JSON.stringify(body), type: 'application/json' };
}

/** Writes that are on their way, so that a second press of the same sends nothing. */
const underWay = new Map<string, Promise<unknown>>();
/** How long after each try a write that could not be sent is sent again. */
const sendAgainMs = [1000, 2000, 4000];

/** One call of the API. A write is sent once, however often it is pressed meanwhile; one that could not be sent is sent again, and counts once. @throws ApiProblem */
export async function call<Answer>(path: string, init: CallInit = {}): Promise<Answer> {
  // what can be let go of only asks, though it may need a body for that
  const isQuestion = (init.method ?? 'GET') === 'GET' || init.signal !== undefined;
  if (isQuestion) return answered(await sent(path, init, noConnection.read));
  const what = init.body instanceof Blob ? null : JSON.stringify([path, init.method, init.body, init.seen]);
  const same = what === null ? undefined : underWay.get(what);
  if (same) return same as Promise<Answer>;
  const answer = write<Answer>(path, init);
  if (what !== null) underWay.set(what, answer);
  return answer.finally(() => what !== null && underWay.delete(what));
}

async function write<Answer>(path: string, init: CallInit): Promise<Answer> {
  const key = newKey();
  for (const waitMs of sendAgainMs) {
    try {
      return await answered(await sent(path, init, noConnection.write, key));
    } catch (error) {
      if (!(error instanceof ApiProblem) || error.status !== 0) throw error;
      await new Promise((resolve) => setTimeout(resolve, waitMs));
    }
  }
  return answered(await sent(path, init, noConnection.write, key));
}

/** A key for one write; pages that come over plain HTTP have no `randomUUID`. */
const newKey = (): string =>
  Array.from(crypto.getRandomValues(new Uint32Array(4)), (part) => part.toString(16).padStart(8, '0')).join('');

const noConnection = {
  read: `The application does not answer. Is it still running? It is asked again every ${againMs / 1000} seconds.`,
  write:
    'The application does not answer: it was asked several times. Nothing is lost here; send it again once it answers.',
};

async function sent(path: string, init: CallInit, unheard: string, key?: string): Promise<Response> {
  const { method = 'GET', signal, seen = null } = init;
  const { body, type } = bodyOf(init.body);
  try {
    return await fetch(`/api/v1/${path}`, {
      method,
      headers: {
        ...(isUnattended() && { 'x-bolide-attended': 'no' }),
        ...(type && { 'content-type': type }),
        ...(seen !== null && { 'if-match': `"${seen}"` }),
        ...(key && { 'idempotency-key': key }),
      },
      ...(body !== undefined && { body }),
      ...(signal && { signal }),
    });
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error;
    throw new ApiProblem(0, 'No connection', unheard, []);
  }
}

async function answered<Answer>(response: Response): Promise<Answer> {
  const text = await response.text();
  const answer = (text ? JSON.parse(text) : {}) as Answer & {
    title?: string;
    detail?: string;
    errors?: ApiProblem['errors'];
    conflict?: Conflict;
  };
  if (!response.ok) {
    if (response.status === 401 && !location.pathname.startsWith('/login'))
      location.assign(`/login?to=${encodeURIComponent(location.pathname + location.search)}`);
    throw new ApiProblem(
      response.status,
      answer.title ?? response.statusText,
      answer.detail ?? '',
      answer.errors ?? [],
      answer.conflict ?? null,
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
  /** of a file: headed as the table shows it */
  headings?: 'shown';
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
