import type { NeighbourFacts, PortKind } from '../../../core/estate/facts';
import type { Basis } from '../../../core/switching/settled';
import { basisWords } from '../../../core/things/placementWords';
import type { FarEnd } from '../tables/surveyContext';

/** What is told of an endpoint at a port. */
export interface Guest {
  mac: string;
  address: string;
  host: string;
  maker: string;
  via: string;
  /** how its place is known; empty where it has none */
  basis: Basis | '';
}

const confidenceWords: Record<string, string> = {
  confirmed: 'both ends say so',
  claimed: 'one end says so',
  concluded: 'concluded from the forwarding table',
};

/** What hangs on a port in a few words, and how that is known. */
export function pluggedIn(
  kind: PortKind | undefined,
  link: FarEnd | undefined,
  heard: NeighbourFacts | undefined,
  endpoints: Guest[],
): { pluggedIn: string; how: string } {
  const nameOf = ({ host, address, mac }: Guest) => host || address || mac;
  const sure = link && `port ${link.port}, ${confidenceWords[link.confidence] ?? link.confidence}`;
  if (link && sure && endpoints.length <= 1) return { pluggedIn: link.device, how: sure };
  const virtual = endpoints.filter(({ via }) => via === 'virtual').length;
  if (virtual > 0 && !endpoints.some(({ via }) => via === 'unmanaged')) {
    const host = link?.device ?? endpoints.find(({ via }) => via === 'direct');
    const on = virtual === 1 ? 'a virtual machine on it' : `${virtual} virtual machines on it`;
    return {
      pluggedIn:
        typeof host === 'string'
          ? host
          : host
            ? nameOf(host)
            : virtual === 1
              ? 'a virtual machine'
              : `${virtual} virtual machines`,
      how: sure ? `${sure}; ${on}` : host ? `hypervisor, ${on}` : 'of a hypervisor',
    };
  }
  if (heard && endpoints.length > 0 && endpoints.every(({ basis }) => basis === 'segment'))
    return {
      pluggedIn: heard.systemName || heard.chassisId,
      how: `a bridge that was not asked, ${endpoints.length === 1 ? 'one machine' : `${endpoints.length} machines`} behind it`,
    };
  const phone = endpoints.find(({ via }) => via === 'direct');
  const behind = endpoints.filter(({ via }) => via === 'phone');
  if (phone && behind.length > 0)
    return { pluggedIn: `${nameOf(phone)} + ${behind.map(nameOf).join(', ')}`, how: 'phone with a computer behind' };
  if (endpoints.length > 1) {
    const wireless = endpoints.filter(({ via }) => via === 'wireless').length;
    if (wireless > 0)
      return {
        pluggedIn: link?.device ?? heard?.systemName ?? 'access point',
        how: `access point with ${wireless} wireless machines`,
      };
    return { pluggedIn: `${endpoints.length} machines`, how: 'unmanaged segment, no neighbour' };
  }
  const only = endpoints[0];
  if (only)
    return {
      pluggedIn: nameOf(only),
      how: [only.maker, only.basis === 'heard' || only.basis === '' ? 'forwarding table' : basisWords[only.basis]]
        .filter(Boolean)
        .join(', '),
    };
  if (heard) return { pluggedIn: heard.systemName || heard.chassisId, how: 'neighbour report' };
  return { pluggedIn: '', how: kind === 'uplink' ? 'leads to other switches' : '' };
}
