import type { DeviceFacts, WayKind } from './facts';

/** What the store knows of a role in the network, enough to recognise it again. */
export interface KnownIdentity {
  id: number;
  name: string;
  address: string;
  addresses: string[];
  serial: string;
  engineId: string | null;
  bridgeAddress: string | null;
  /** of the hardware, where it tells one */
  uuid?: string;
  /** serials of all chassis of a stack */
  unitSerials?: string[];
  /** of a server's own interfaces: by them its system and its management controller know each other */
  macs?: string[];
  /** the ways in by which it was seen */
  kinds?: WayKind[];
}

/** What is seen now: the facts, and what they leave out. */
export interface SeenIdentity extends DeviceFacts {
  macs?: string[];
}

export interface IdentityMatch {
  id: number;
  by: 'serial' | 'uuid' | 'mac' | 'engine' | 'bridge address' | 'name and address';
  /** same role, other chassis serial */
  replaced: boolean;
}

/**
 * Is this a device we know? By chassis serial, then management engine or bridge address, then name with address.
 * An engine id or bridge address is trusted only together with the same name or a shared address,
 * since clones carry equal engine ids.
 */
export function matchIdentity(found: SeenIdentity, known: KnownIdentity[]): IdentityMatch | null {
  const sharesAddress = (candidate: KnownIdentity) =>
    candidate.address === found.address || candidate.addresses.some((address) => found.addresses.includes(address));
  const differs = (candidate: KnownIdentity) =>
    found.serial !== '' && candidate.serial !== '' && candidate.serial !== found.serial;
  if (found.serial) {
    const sameSerial = known.filter(({ serial }) => serial === found.serial);
    const match = sameSerial.length > 1 ? sameSerial.find(({ name }) => name === found.name) : sameSerial[0];
    if (match) return { id: match.id, by: 'serial', replaced: false };
    // a stack whose first member changed is the same stack as long as it kept any member
    const units = found.units.map(({ serial }) => serial).filter(Boolean);
    const stack =
      units.length > 1
        ? known.find(
            ({ unitSerials = [] }) => unitSerials.length > 1 && units.some((serial) => unitSerials.includes(serial)),
          )
        : undefined;
    if (stack) return { id: stack.id, by: 'serial', replaced: false };
  }
  if (found.uuid) {
    const match = known.find(({ uuid }) => uuid === found.uuid);
    if (match) return { id: match.id, by: 'uuid', replaced: differs(match) };
  }
  // two ways in to one server: copies of a machine carry equal MACs too, so that this counts between different ways in alone
  const kinds = kindsOf(found);
  const sameMac =
    found.macs && found.macs.length > 0
      ? known.find(
          (candidate) =>
            !differs(candidate) &&
            !(candidate.kinds ?? ['snmp']).some((kind) => kinds.includes(kind)) &&
            candidate.macs?.some((mac) => found.macs?.includes(mac)),
        )
      : undefined;
  if (sameMac) return { id: sameMac.id, by: 'mac', replaced: false };
  const byKey = (by: IdentityMatch['by'], same: (candidate: KnownIdentity) => boolean): IdentityMatch | null => {
    const match = known.find(
      (candidate) => same(candidate) && (candidate.name === found.name || sharesAddress(candidate)),
    );
    return match ? { id: match.id, by, replaced: differs(match) } : null;
  };
  return (
    (found.engineId ? byKey('engine', ({ engineId }) => engineId === found.engineId) : null) ??
    (found.bridgeAddress
      ? byKey('bridge address', ({ bridgeAddress }) => bridgeAddress === found.bridgeAddress)
      : null) ??
    byKey('name and address', (candidate) => candidate.name === found.name && sharesAddress(candidate))
  );
}

/** The ways in by which a device was seen; SNMP is not written down where it is the only one. */
export const kindsOf = ({ interfaces }: DeviceFacts): WayKind[] => interfaces?.map(({ kind }) => kind) ?? ['snmp'];

/** Known identities, found by what a device may be recognised by: the cost of a match follows its candidates, not the estate. */
export class IdentityIndex {
  readonly #byId = new Map<number, KnownIdentity>();
  readonly #byKey = new Map<string, Set<number>>();

  set(known: KnownIdentity): void {
    const before = this.#byId.get(known.id);
    if (before) for (const key of keysOf(before)) this.#byKey.get(key)?.delete(known.id);
    this.#byId.set(known.id, known);
    for (const key of keysOf(known)) {
      const ids = this.#byKey.get(key);
      if (ids) ids.add(known.id);
      else this.#byKey.set(key, new Set([known.id]));
    }
  }

  /** The same answer that `matchIdentity` gives over all of them. */
  match(found: SeenIdentity): IdentityMatch | null {
    const ids = new Set<number>();
    for (const key of keysOf({ ...found, unitSerials: found.units.map(({ serial }) => serial).filter(Boolean) }))
      for (const id of this.#byKey.get(key) ?? []) ids.add(id);
    return matchIdentity(
      found,
      [...ids].sort((x, y) => x - y).flatMap((id) => this.#byId.get(id) ?? []),
    );
  }

  /** The device that was last asked on an address, or else has it. */
  byAddress(address: string): number | null {
    const known = [...(this.#byKey.get(`address ${address}`) ?? [])]
      .sort((x, y) => x - y)
      .flatMap((id) => this.#byId.get(id) ?? []);
    return (known.find((candidate) => candidate.address === address) ?? known[0])?.id ?? null;
  }
}

/** Everything that two devices must share one of to be taken for the same. */
function keysOf({
  name,
  address,
  addresses,
  serial,
  engineId,
  bridgeAddress,
  uuid,
  unitSerials = [],
  macs = [],
}: Omit<KnownIdentity, 'id'>): string[] {
  return [
    `name ${name}`,
    `address ${address}`,
    ...addresses.map((other) => `address ${other}`),
    ...(serial ? [`serial ${serial}`] : []),
    ...(engineId ? [`engine ${engineId}`] : []),
    ...(bridgeAddress ? [`bridge ${bridgeAddress}`] : []),
    ...(uuid ? [`uuid ${uuid}`] : []),
    ...(unitSerials.length > 1 ? unitSerials.map((unit) => `unit ${unit}`) : []),
    ...macs.map((mac) => `mac ${mac}`),
  ];
}
