import * as yup from 'yup';
import type { Store } from '../../store/database';
import type { Person, PersonRole, TokenRole } from '../../store/people';
import { Problem, invalid } from './problem';
import { whoAsks } from './session';
import { webStore } from './store';

const rank: Record<TokenRole, number> = { collector: 0, viewer: 1, operator: 2, administrator: 3 };
const largestBody = 256 * 1024;

export interface Act<Body> {
  store: Store;
  person: Person;
  request: Request;
  url: URL;
  params: Record<string, string>;
  body: Body;
}

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

/**
 * A route: who may call it, what its body must look like, what it does. Every route goes through here, so that none can
 * forget its role, its origin check or its validation.
 */
export function route<Body = undefined>(
  role: PersonRole | 'collector' | 'anyone',
  schema: yup.Schema<Body> | null,
  act: (call: Act<Body>) => Promise<unknown> | unknown,
  { largest = largestBody } = {},
): Handler {
  return async (request, context) => {
    try {
      const writes = request.method !== 'GET' && request.method !== 'HEAD';
      const asking = await whoAsks(request);
      if (role !== 'anyone') {
        if (!asking) throw new Problem(401, 'Not signed in', 'Sign in, or send a token as “Authorization: Bearer …”.');
        // what collectors are told is for nobody else, however high
        if (role === 'collector' && asking.person.role !== 'collector')
          throw new Problem(403, 'Not allowed', 'Only a collector may ask this, with its own token.');
        if (rank[asking.person.role] < rank[role])
          throw new Problem(403, 'Not allowed', `This needs the role ${role}; you are ${asking.person.role}.`);
      }
      if (writes && asking?.by !== 'token') checkOrigin(request);
      const body = (schema ? await readBody(request, schema, largest) : undefined) as Body;
      const person = asking?.person ?? { id: 0, name: '', role: 'viewer' as const };
      const answer = await act({
        store: webStore(),
        person,
        request,
        url: new URL(request.url),
        params: await context.params,
        body,
      });
      if (answer instanceof Response) return answer;
      return Response.json(answer ?? {}, { headers: { 'cache-control': 'no-store' } });
    } catch (error) {
      if (error instanceof Problem) return error.response();
      console.error(
        `${request.method} ${new URL(request.url).pathname}:`,
        error instanceof Error ? error.stack : 'unknown error',
      );
      return new Problem(
        500,
        'Internal error',
        'Something failed inside. The log of the application has the details.',
      ).response();
    }
  };
}

/** Writes with a cookie must come from our own pages. */
function checkOrigin(request: Request): void {
  const origin = request.headers.get('origin');
  const host = request.headers.get('host');
  let same = false;
  try {
    same = origin !== null && new URL(origin).host === host;
  } catch {
    same = false;
  }
  if (!same) throw new Problem(403, 'Foreign origin', 'This write did not come from a page of this application.');
}

async function readBody<Body>(request: Request, schema: yup.Schema<Body>, largest: number): Promise<Body> {
  const text = await request.text();
  if (text.length > largest) throw new Problem(413, 'Too large', `A request body may have ${largest / 1024} kB.`);
  let value: unknown;
  try {
    value = JSON.parse(text || '{}');
  } catch {
    throw new Problem(400, 'Not JSON', 'The request body must be JSON.');
  }
  try {
    return await schema.validate(value, { abortEarly: false, strict: true });
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const list = error.inner.length > 0 ? error.inner : [error];
    throw invalid(list.flatMap(mistakesOf));
  }
}

/** A validation mistake at its place: a field that is not known is named itself. */
function mistakesOf({ type, path, message, params }: yup.ValidationError): { path: string; message: string }[] {
  const unknown = type === 'noUnknown' ? String((params as { unknown?: unknown } | undefined)?.unknown ?? '') : '';
  if (unknown === '') return [{ path: path ?? '', message }];
  return unknown
    .split(', ')
    .map((name) => ({ path: [path, name].filter(Boolean).join('.'), message: `There is no field “${name}” here` }));
}
