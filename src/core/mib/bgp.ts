import { addressFromOctets } from '../values/ipAddress';
import { scalar, tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

/** BGP4-MIB (RFC 4273): bgpPeerTable. */
export const bgpTables = { bgpLocalAs: '1.3.6.1.2.1.15.2', bgpPeerEntry: '1.3.6.1.2.1.15.3.1' } as const;

/** Identifier, state, admin status, local address, remote AS, seconds in the state established. */
export const bgpPeerColumns = [1, 2, 3, 5, 9, 16] as const;

const states = ['idle', 'idle', 'connect', 'active', 'openSent', 'openConfirm', 'established'] as const;

export interface BgpPeer {
  address: string;
  identifier: string;
  localAddress: string;
  localAs: number | null;
  remoteAs: number | null;
  state: (typeof states)[number];
  enabled: boolean;
  establishedSeconds: number | null;
}

/** Stands where the real number has four octets and does not fit in (RFC 6793): it is nobody's. */
const asTrans = 23_456;
const asNumber = (number: number | undefined): number | null => (!number || number === asTrans ? null : number);

export function parseBgpPeers(answered: Answered): BgpPeer[] {
  const localAs = asNumber(numberOf(scalar(bgpTables.bgpLocalAs, answered)));
  return tableRows(bgpTables.bgpPeerEntry, answered).flatMap(({ index, cells }) => {
    const address = addressFromOctets(index);
    if (!address) return [];
    const state = states[numberOf(cells.get(2)) ?? 0] ?? 'idle';
    return [
      {
        address,
        identifier: textOf(cells.get(1)) ?? '',
        localAddress: textOf(cells.get(5)) ?? '',
        localAs,
        remoteAs: asNumber(numberOf(cells.get(9))),
        state,
        enabled: numberOf(cells.get(3)) !== 1,
        establishedSeconds: state === 'established' ? (numberOf(cells.get(16)) ?? null) : null,
      },
    ];
  });
}
