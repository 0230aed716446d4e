import type * as yup from 'yup';
import type { Store } from '../../store/base/database';
import type { Area } from '../../core/people/areas';
import type { Asking } from '../access/session';
import type { Person, PersonRole } from '../../store/people';
import type { JsonSchema } from './jsonSchema';

export const methods = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;
export type Method = (typeof methods)[number];

/** Who may call a route: anyone, whoever has at least a role, or collectors alone. */
export type MayCall = 'anyone' | 'collector' | PersonRole;

/** The names in braces of a path: `/plans/{id}/picture` has `id`. */
type NamesIn<Path> = Path extends `${string}{${infer Name}}${infer Rest}` ? Name | NamesIn<Rest> : never;

/** What a route gets to do its work. */
export interface Call<Path extends string = string, Query = unknown, Body = unknown> {
  store: Store;
  person: Person;
  /** with what they ask; null where nobody in particular does */
  asking: Asking | null;
  request: Request;
  url: URL;
  /** the names in braces, decoded */
  params: Record<NamesIn<Path>, string>;
  query: Query;
  body: Body;
  /** the edit up to which whoever writes has seen what stands there (`If-Match`); null where that is not said */
  seen: number | null;
  /** headers of a JSON answer, for what it says beside its body */
  answerHeaders: Headers;
}

/** A body that is no JSON. In memory the route gets its octets; as a file it gets the path of one that is removed afterwards. */
export interface OctetBody<Body> {
  mediaTypes: readonly string[];
  into: 'memory' | 'file';
  /** what the route gets: only its type is meant */
  gives?: Body;
}

/** A body that is given to the route as the octets that came. */
export const octets = (...mediaTypes: string[]): OctetBody<Buffer> => ({ mediaTypes, into: 'memory' });

/** A body too large for memory: it is written to a file while it arrives. */
export const asFile = (...mediaTypes: string[]): OctetBody<{ file: string }> => ({ mediaTypes, into: 'file' });

/** How an answer looks that is no JSON. */
export interface FileAnswer {
  mediaTypes: readonly string[];
  description: string;
}

export interface RouteSpec<Path extends string, Query, Body> {
  method: Method;
  /** below `/api/v1`, names in braces */
  path: Path;
  role: MayCall;
  /** what it does, in a line */
  summary: string;
  /** the parameters it knows; every other one is refused */
  query?: yup.Schema<Query>;
  body?: yup.Schema<Body> | yup.Lazy<Body> | OctetBody<Body>;
  /** how its JSON body looks where that depends on what it holds */
  bodySchema?: JsonSchema;
  /** octets a body may have */
  largest?: number;
  /** it may take long: it is done in a thread beside the one that answers everybody */
  beside?: boolean;
  /** open to whoever must choose a password first */
  beforePassword?: boolean;
  /** it writes what people write: it takes the version that was seen as `If-Match`, and refuses what was written since */
  versioned?: boolean;
  /** how its JSON answer looks where that does not follow from the type of what `run` returns */
  answer?: JsonSchema;
  /** what it answers beside JSON, or instead of it */
  file?: FileAnswer;
  run: (call: Call<Path, Query, Body>) => unknown;
}

/** A row of the table of routes, and the part of the API it belongs to; what belongs to none is open to every token. */
export type Route = RouteSpec<string, unknown, unknown> & { area?: Area };

/** Says to which part of the API routes belong: tokens may be bound to some. */
export const inArea = (area: Area, routes: readonly Route[]): Route[] => routes.map((one) => ({ area, ...one }));

/**
 * One route: who may call it, what it takes, what it does. What it answers is described from the type of what `run` returns
 * (`scripts/describe-answers.mjs`), so that no route says it twice.
 */
export function route<const Path extends string, Query = Record<never, never>, Body = undefined>(
  spec: RouteSpec<Path, Query, Body>,
): Route {
  return spec as unknown as Route;
}

/** The default bound of a body: forms are small. */
export const usualLargest = 256 * 1024;
export const megabytes = (count: number): number => count * 1024 * 1024;
