import type { DeviceFacts } from './facts';

/** What the store knows of a role in the network, enough to recognise it again. */
export interface KnownIdentity {
  id: number;
  name: string;
  address: string;
  addresses: string[];
  serial: string;
  engineId: string | null;
  bridgeAddress: string | null;
}

export interface IdentityMatch {
  id: number;
  by: 'serial' | 'engine' | 'bridge address' | 'name and address';
  /** same role, other chassis serial */
  replaced: boolean;
}

/**
 * Is this a device we know? By chassis serial, then management engine or bridge address, then name with address.
 * An engine id or bridge address is trusted only together with the same name or a shared address,
 * since clones carry equal engine ids.
 */
export function matchIdentity(found: DeviceFacts, known: KnownIdentity[]): IdentityMatch | null {
  const sharesAddress = (candidate: KnownIdentity) => candidate.address === found.address || candidate.addresses.some((address) => found.addresses.includes(address));
  const differs = (candidate: KnownIdentity) => found.serial !== '' && candidate.serial !== '' && candidate.serial !== found.serial;
  if (found.serial) {
    const sameSerial = known.filter(({ serial }) => serial === found.serial);
    const match = sameSerial.length > 1 ? sameSerial.find(({ name }) => name === found.name) : sameSerial[0];
    if (match) return { id: match.id, by: 'serial', replaced: false };
  }
  const byKey = (by: IdentityMatch['by'], same: (candidate: KnownIdentity) => boolean): IdentityMatch | null => {
    const match = known.find((candidate) => same(candidate) && (candidate.name === found.name || sharesAddress(candidate)));
    return match ? { id: match.id, by, replaced: differs(match) } : null;
  };
  return (
    (found.engineId ? byKey('engine', ({ engineId }) => engineId === found.engineId) : null) ??
    (found.bridgeAddress ? byKey('bridge address', ({ bridgeAddress }) => bridgeAddress === found.bridgeAddress) : null) ??
    byKey('name and address', (candidate) => candidate.name === found.name && sharesAddress(candidate))
  );
}
