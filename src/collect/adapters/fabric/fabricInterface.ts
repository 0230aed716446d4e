import { wayNames } from '../../../core/estate/ways';
import { listAt, textAt, type Json } from '../../../core/resources/json';
import { interpretFabric } from '../../../core/resources/fabricController';
import { HttpsClient } from '../../https/httpsClient';
import { ResourceError } from '../../https/resourceSource';
import type { VendorInterface } from '../../interfaces/vendorInterface';
import { answersWith, resourceOf } from '../adapterClient';

const mostPages = 500;

/** The fabric controller's own interface: Basic at every request, lists whose pages name the next one. */
export const fabricInterface: VendorInterface = {
  kind: 'fabric',
  credentialKind: 'controller',
  name: wayNames.fabric,
  probe: (place, options) => answersWith(place, options, '/fabric/1', (body) => textAt(body, 'service') === 'fabric'),
  open: async (place, options, { user, password }) => {
    const client = new HttpsClient(place, options);
    const headers = { authorization: `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}` };
    const get = async (path: string) => (await client.ask(path, { headers })).body;
    let controller: Json;
    try {
      controller = await get('/fabric/1/controller');
    } catch (error) {
      client.close();
      throw error;
    }
    const list = async (path: string, field: string): Promise<Json> => {
      const first = await get(path);
      const items = [...listAt(first, field)];
      let next = textAt(first, 'nextPage');
      const seen = new Set([path]);
      for (let pages = 1; next.startsWith('/fabric/1/'); pages++) {
        // pages that lead back, or never end, are broken off with a word
        if (seen.has(next) || pages >= mostPages) throw new ResourceError('failed', `its pages of ${field} do not end`);
        seen.add(next);
        const body = await get(next);
        items.push(...listAt(body, field));
        next = textAt(body, 'nextPage');
      }
      return items.length > 0 ? { [field]: items } : first;
    };
    return {
      read: async (context) => {
        const answer = interpretFabric(
          {
            controller,
            nodes: await resourceOf(() => list('/fabric/1/nodes', 'nodes')),
            tenants: await resourceOf(() => list('/fabric/1/tenants', 'tenants')),
            endpoints: await resourceOf(() => list('/fabric/1/endpoints', 'endpoints')),
            links: await resourceOf(() => list('/fabric/1/links', 'links')),
          },
          context,
        );
        if ('drift' in answer) throw new ResourceError('changed', answer.drift);
        return answer;
      },
      close: () => Promise.resolve(client.close()),
    };
  },
};
