import { TrieRouter } from 'hono/router/trie-router';
import { thingNames } from '../../core/things/things';
import { Problem } from '../access/problem';
import { passGate } from './gate';
import { methods, type Route } from './route';
import { allRoutes } from './routes';

const base = '/api/v1';

/** Words of a path before names in braces: `/contracts/imports` is found before `/contracts/{id}`. */
const bySpecificity = (one: Route, other: Route): number => {
  const key = ({ path }: Route) => path.replaceAll('{', '\u{10FFFF}');
  return key(one) < key(other) ? -1 : 1;
};

function routerOf(routes: readonly Route[]): TrieRouter<Route> {
  const router = new TrieRouter<Route>();
  for (const route of [...routes].sort(bySpecificity)) {
    router.add(route.method, route.path.replace(/\{(\w+)\}/g, ':$1'), route);
  }
  return router;
}

interface Match {
  route: Route;
  params: Record<string, string>;
}

function find(router: TrieRouter<Route>, method: string, path: string): Match | null {
  const [found] = router.match(method, path)[0] as [Route, Record<string, string>][];
  return found ? { route: found[0], params: found[1] } : null;
}

/** Answers a request to the API from a table of routes. */
export function answerFrom(routes: readonly Route[]): (request: Request) => Promise<Response> {
  const router = routerOf(routes);
  return async (request) => {
    const path = new URL(request.url).pathname.slice(base.length);
    const method = request.method === 'HEAD' ? 'GET' : request.method;
    const match = find(router, method, path);
    if (!match) return nothingThere(router, method, path).response();
    try {
      const params = Object.entries(match.params).map(([name, value]) => [name, decodeURIComponent(value)]);
      return await passGate(match.route, Object.fromEntries(params) as Record<string, string>, request);
    } catch (error) {
      if (!(error instanceof URIError)) throw error;
      return new Problem(
        400,
        'Not an address',
        'A name in the path is not written as addresses are (RFC 3986).',
      ).response();
    }
  };
}

/** Nothing answers there: another method may, or nothing at all does. */
function nothingThere(router: TrieRouter<Route>, method: string, path: string): Problem {
  const others = methods.filter((other) => find(router, other, path) !== null);
  if (others.length > 0) {
    const allowed = others.join(', ');
    return new Problem(405, 'Not done here', `${path} takes ${allowed}, not ${method}.`, [], { allow: allowed });
  }
  const [, name = ''] = path.split('/');
  const words = `There is no “${name}” at ${path}: things are ${thingNames.join(', ')}; all calls are described at /api.`;
  return new Problem(404, 'Not found', words);
}

export const answerRequest = answerFrom(allRoutes);
