import { wayNames } from '../../../core/estate/ways';
import { listAt, textAt, type Json } from '../../../core/resources/json';
import { interpretHypervisors } from '../../../core/resources/hypervisorManager';
import { HttpsClient } from '../../https/httpsClient';
import { ResourceError } from '../../https/resourceSource';
import type { VendorInterface } from '../../interfaces/vendorInterface';
import { answersWith, resourceOf } from '../adapterClient';

const mostPages = 500;

/** The hypervisor manager's own interface: a session whose key goes with every request, lists by cursor. */
export const hypervisorInterface: VendorInterface = {
  kind: 'hypervisors',
  credentialKind: 'controller',
  name: wayNames.hypervisors,
  probe: (place, options) => answersWith(place, options, '/hv/info', (body) => textAt(body, 'speaks') === 'hv-manager'),
  open: async (place, options, { user, password }) => {
    const client = new HttpsClient(place, options);
    let headers: Record<string, string>;
    try {
      const { headers: given } = await client.ask('/hv/session', {
        method: 'POST',
        headers: { authorization: `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}` },
      });
      const key = given['hv-session'];
      if (!key) throw new ResourceError('changed', 'this interface changed: a session has no key any more');
      headers = { 'hv-session': key };
    } catch (error) {
      client.close();
      throw error;
    }
    const get = async (path: string) => (await client.ask(path, { headers })).body;
    const list = async (path: string): Promise<Json> => {
      const first = await get(path);
      const items = [...listAt(first, 'items')];
      let cursor = textAt(first, 'cursor');
      for (let pages = 1; cursor && pages < mostPages; pages++) {
        const body = await get(`${path}?cursor=${encodeURIComponent(cursor)}`);
        items.push(...listAt(body, 'items'));
        const next = textAt(body, 'cursor');
        if (next === cursor) throw new ResourceError('failed', `its pages of ${path} do not end`);
        cursor = next;
      }
      return items.length > 0 ? { items } : first;
    };
    return {
      read: async (context) => {
        const manager = await get('/hv/manager');
        const [clusters, hosts, machines, datastores] = [
          await resourceOf(() => list('/hv/clusters')),
          await resourceOf(() => list('/hv/hosts')),
          await resourceOf(() => list('/hv/machines')),
          await resourceOf(() => list('/hv/datastores')),
        ];
        const answer = interpretHypervisors({ manager, clusters, hosts, machines, datastores }, context);
        if ('drift' in answer) throw new ResourceError('changed', answer.drift);
        return answer;
      },
      close: async () => {
        await client.ask('/hv/session', { method: 'DELETE', headers }).catch(() => undefined);
        client.close();
      },
    };
  },
};
