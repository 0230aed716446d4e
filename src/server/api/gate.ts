import type { Person, TokenRole } from '../../core/people/person';
import { editProblem } from '../access/editProblem';
import { filterProblem } from '../access/filterProblem';
import { isDiskFull, isLocked } from '../../store/base/storeFault';
import { untilWritable } from '../../store/base/lock';
import { Problem } from '../access/problem';
import { served } from '../access/served';
import { whoAsks, type Asking } from '../access/session';
import { recordRefusal } from '../access/refusals';
import { webStore } from '../access/store';
import { besideThread } from '../beside/besideThread';
import { AnsweredOnce } from './answeredOnce';
import { readJson, readOctets, withBodyAsFile } from './body';
import { readParameters } from './parameters';
import { usualLargest, type Route } from './route';

const rank: Record<TokenRole, number> = { collector: 0, viewer: 1, operator: 2, administrator: 3 };
const writesOnce = new AnsweredOnce();
const nobody: Person = { id: 0, name: '', role: 'viewer' };

/**
 * The one gate in front of all routes: who asks, whether they may, whether the write comes from a page of ours, what the
 * address and the body say; then the route, whose answer or problem goes back.
 */
export async function passGate(route: Route, params: Record<string, string>, request: Request): Promise<Response> {
  try {
    const asking = await whoAsks(request);
    checkRight(route, asking);
    const writes = request.method !== 'GET' && request.method !== 'HEAD';
    if (writes && asking?.by !== 'token') checkOrigin(request);
    if (writes && !route.beside) await waitForOthers();
    const url = new URL(request.url);
    const query = await readParameters(route.query, url.searchParams);
    const answerHeaders = new Headers({ 'cache-control': 'no-store' });
    const person = asking?.person ?? nobody;
    const seen = route.versioned ? versionSeen(request) : null;
    const call = { store: webStore(), person, asking, request, url, params, query, seen, answerHeaders };
    const answered = async () => {
      const beside = route.beside ? besideThread() : null;
      if (beside) return beside.answer(request, await readOctets(request, route.largest ?? usualLargest));
      const answer = await withBody(route, request, (body) => route.run({ ...call, body }));
      return answer instanceof Response ? answer : Response.json(answer ?? {}, { headers: answerHeaders });
    };
    const key = writes && asking ? request.headers.get('idempotency-key') : null;
    const what = `${request.method} ${url.pathname}${url.search}`;
    return await writesOnce.answer({ who: callerOf(asking), key, request: what }, async () =>
      answered().catch((error: unknown) => problemOf(error, request).response()),
    );
  } catch (error) {
    return problemOf(error, request).response();
  }
}

async function withBody(route: Route, request: Request, work: (body: unknown) => unknown): Promise<unknown> {
  const { body, largest = usualLargest } = route;
  if (!body) return work(undefined);
  if (!('into' in body)) return work(await readJson(request, body, largest));
  if (body.into === 'memory') return work(await readOctets(request, largest));
  return withBodyAsFile(request, largest, async (file) => work({ file }));
}

/** The version that was seen, as an entity tag (RFC 9110, 13.1.1): `If-Match: "12"`; `*` and no header say nothing. */
function versionSeen(request: Request): number | null {
  const given = request.headers.get('if-match');
  if (given === null || given.trim() === '*') return null;
  const [, number] = /^\s*(?:W\/)?"(\d{1,15})"\s*$/.exec(given) ?? [];
  if (number !== undefined) return Number(number);
  const message = 'must be the version that was seen, in quotation marks: "12"';
  throw new Problem(400, 'No version', `If-Match ${message}.`, [{ path: 'If-Match', message }]);
}

const lockMs = 20_000;

/** Somebody else may hold the database: that is waited for here, where nobody else has to wait with it. */
async function waitForOthers(): Promise<void> {
  if (await untilWritable(webStore().raw, lockMs)) return;
  const words = `Another program has held the database for ${lockMs / 1000} s. Nothing was done; try again.`;
  throw new Problem(503, 'Database busy', words, [], { 'retry-after': '5' });
}

/** Whose keys they are: tokens are none of people, nor of each other. */
const callerOf = (asking: Asking | null): string =>
  asking === null ? '' : asking.by === 'token' ? `token ${asking.tokenId}` : `person ${asking.person.id}`;

function checkRight(route: Route, asking: Asking | null): void {
  const refusal = refusalOf(route, asking);
  if (!refusal) return;
  if (asking) recordRefusal(webStore().db, asking.person.name, `${route.method} ${route.path}`);
  throw refusal;
}

function refusalOf({ role, area, beforePassword }: Route, asking: Asking | null): Problem | null {
  const refused = (words: string) => new Problem(403, 'Not allowed', words);
  if (asking?.by === 'cookie' && asking.mustChange && !beforePassword)
    return refused('Choose a password of your own first.');
  if (role === 'anyone') return null;
  if (!asking) return new Problem(401, 'Not signed in', 'Sign in, or send a token as “Authorization: Bearer …”.');
  const own: TokenRole = asking.person.role;
  // what collectors are told is for nobody else, however high
  if (role === 'collector' && own !== 'collector') return refused('Only a collector may ask this, with its own token.');
  if (rank[own] < rank[role]) return refused(`This needs the role ${role}; you are ${own}.`);
  if (asking.by === 'token' && asking.areas !== null && area !== undefined && !asking.areas.includes(area))
    return refused(`This belongs to “${area}”; this token opens ${asking.areas.join(', ')} alone.`);
  return null;
}

/** Writes with a cookie must come from our own pages. */
function checkOrigin(request: Request): void {
  const origin = request.headers.get('origin');
  const { origins } = served();
  if (origin !== null && origins.includes(origin)) return;
  const words =
    origin === null || origin === 'null'
      ? 'This write did not come from a page of this application.'
      : `This write came from a page at ${origin}, where this application is not served. If it is, start it with “--origin ${origin}”.`;
  throw new Problem(403, 'Foreign origin', words);
}

/** What keeps the database from being written, which is nobody's mistake and passes. */
function storeRefusal(error: unknown): Problem | null {
  if (isDiskFull(error)) {
    const words = 'There is no room left where the data lie. Nothing was written, and nothing is lost; make room.';
    return new Problem(507, 'Disk full', words);
  }
  return isLocked(error) ? new Problem(503, 'Database busy', 'Another program holds the database. Try again.') : null;
}

function problemOf(error: unknown, request: Request): Problem {
  if (error instanceof Problem) return error;
  const mistake = filterProblem(error) ?? editProblem(error, request.headers.has('if-match'));
  if (mistake) return mistake;
  const refusal = storeRefusal(error);
  if (refusal) return refusal;
  console.error(
    `${request.method} ${new URL(request.url).pathname}:`,
    error instanceof Error ? error.stack : 'unknown error',
  );
  return new Problem(500, 'Internal error', 'Something failed inside. The log of the application has the details.');
}
