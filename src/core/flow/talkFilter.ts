import { compileFilter } from '../filter/predicate';
import type { FilterField } from '../filter/filterField';
import { parseFilter } from '../filter/syntax';
import { protocolName, type Talk } from './talk';

const fields: FilterField[] = [
  { name: 'address', kind: 'address' },
  { name: 'client', kind: 'address' },
  { name: 'server', kind: 'address' },
  { name: 'port', kind: 'number' },
  { name: 'protocol', kind: 'text' },
];

/** Which talk is wanted where it is captured: by either address, client, server, port and protocol, in the filter language. @throws FilterError */
export function talkFilter(text: string): (talk: Pick<Talk, 'client' | 'server' | 'port' | 'protocol'>) => boolean {
  const test = compileFilter<Record<string, unknown>>(parseFilter(text), fields);
  return ({ client, server, port, protocol }) =>
    test({ address: [client, server], client, server, port, protocol: protocolName(protocol) });
}
