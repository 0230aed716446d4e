import { answerFrom } from '../api/answer';
import type { Route } from '../api/route';
import { allRoutes } from '../api/routes';
import type { Store } from '../../store/base/database';
import { addToken } from '../../store/tokens';
import { tokenRoles, type TokenRole } from '../../store/people';

export interface ApiAnswer {
  status: number;
  headers: Headers;
  body: Record<string, unknown> & {
    errors?: { path: string; message: string; at?: number; expected?: string }[];
    rows?: Record<string, unknown>[];
  };
}

export interface ApiCall {
  body?: unknown;
  headers?: Record<string, string>;
}

/** Calls of the API over a store, as each role, through the gate and all: for tests. `call('viewer', 'GET /devices?size=1')`. */
export function apiOf(store: Store, routes: readonly Route[] = allRoutes) {
  (globalThis as { bolideStore?: Store }).bolideStore = store;
  process.env.BOLIDE_DATA = store.folder;
  const tokens = Object.fromEntries(
    tokenRoles.map((role) => [role, addToken(store.db, { name: role, role })]),
  ) as Record<TokenRole, string>;
  const answer = answerFrom(routes);
  const send = (by: TokenRole | null, line: string, { body, headers = {} }: ApiCall = {}): Promise<Response> => {
    const [method = 'GET', path = ''] = line.split(' ');
    const octets = body instanceof Uint8Array || typeof body === 'string' ? body : JSON.stringify(body);
    return answer(
      new Request(`http://bolide.test/api/v1${path}`, {
        method,
        headers: { authorization: `Bearer ${by === null ? 'bol_nobody' : tokens[by]}`, ...headers },
        ...(body !== undefined && { body: octets as BodyInit }),
      }),
    );
  };
  const call = async (by: TokenRole | null, line: string, more: ApiCall = {}): Promise<ApiAnswer> => {
    const response = await send(by, line, more);
    return { status: response.status, headers: response.headers, body: (await response.json()) as ApiAnswer['body'] };
  };
  return { send, call, tokens };
}
