import { wayNames } from '../../../core/estate/ways';
import { listAt, numberAt, textAt, type Json } from '../../../core/resources/json';
import { interpretWireless } from '../../../core/resources/wirelessController';
import { HttpsClient } from '../../https/httpsClient';
import { ResourceError } from '../../https/resourceSource';
import type { VendorInterface } from '../../interfaces/vendorInterface';
import { answersWith, resourceOf } from '../adapterClient';

const page = 50;
const mostPages = 200;

/** The wireless controller's own interface: a token by login, lists in pages by offset. */
export const wirelessInterface: VendorInterface = {
  kind: 'wireless',
  credentialKind: 'controller',
  name: wayNames.wireless,
  probe: (place, options) =>
    answersWith(place, options, '/wlc/v2/about', (body) => textAt(body, 'interface') === 'wlc'),
  open: async (place, options, { user, password }) => {
    const client = new HttpsClient(place, options);
    let headers: Record<string, string>;
    try {
      const { body } = await client.ask('/wlc/v2/login', { method: 'POST', body: { user, password } });
      const token = textAt(body, 'token');
      if (!token) throw new ResourceError('changed', 'this interface changed: login gives no token any more');
      headers = { authorization: `Bearer ${token}` };
    } catch (error) {
      client.close();
      throw error;
    }
    const get = async (path: string) => (await client.ask(path, { headers })).body;
    const list = async (path: string): Promise<Json> => {
      const items: Json[] = [];
      for (let at = 0; at < mostPages; at++) {
        const body = await get(`${path}?offset=${items.length}&limit=${page}`);
        const some = listAt(body, 'items');
        // what is no list any more is told as it came
        if (at === 0 && some.length === 0) return body;
        items.push(...some);
        if (some.length === 0 || items.length >= (numberAt(body, 'total') ?? 0)) break;
      }
      return { items };
    };
    return {
      read: async (context) => {
        const controller = await get('/wlc/v2/controller');
        const answer = interpretWireless(
          {
            controller,
            accessPoints: await resourceOf(() => list('/wlc/v2/access-points')),
            wlans: await resourceOf(() => list('/wlc/v2/wlans')),
          },
          context,
        );
        if ('drift' in answer) throw new ResourceError('changed', answer.drift);
        return answer;
      },
      close: async () => {
        await client.ask('/wlc/v2/logout', { method: 'POST', headers }).catch(() => undefined);
        client.close();
      },
    };
  },
};
