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
  /** of all its sockets, whatever it is: two that have none in common are two. Asked for where it counts */
  socketMacs?: () => readonly string[];
  /** the ways in by which it was seen */
  kinds?: WayKind[];
  /** what it told in this very survey, where it did: of another one it means nothing */
  now?: ToldNow;
}

/** What is so at the time of a survey alone. */
export interface ToldNow {
  /** for how long it runs, in seconds; null where it does not tell */
  upSeconds: number | null;
  /** whom it hears at which port */
  neighbours: readonly string[];
}

/** A survey takes its time, and agents are begun anew: what started within an hour may be one. */
const startedTogether = 3600;

/** Of two answers in one survey: started at another time, or hears nobody of whom the other hears. */
function differsNow(known: ToldNow | undefined, found: ToldNow | undefined): boolean {
  if (!known || !found) return false;
  const otherStart =
    known.upSeconds !== null &&
    found.upSeconds !== null &&
    Math.abs(known.upSeconds - found.upSeconds) > startedTogether;
  const heard = new Set(known.neighbours);
  const otherNeighbours =
    heard.size > 0 && found.neighbours.length > 0 && !found.neighbours.some((one) => heard.has(one));
  return otherStart || otherNeighbours;
}

/** What is seen now: the facts, and what they leave out. */
export interface SeenIdentity extends DeviceFacts {
  macs?: string[];
  socketMacs?: string[];
  now?: ToldNow;
}

export interface IdentityMatch {
  id: number;
  by: 'serial' | 'uuid' | 'mac' | 'engine' | 'bridge address' | 'name and address';
  /** same role, other chassis serial */
  replaced: boolean;
}

/** Serials are compared without regard to case: agents and labels differ in it. */
const serialKey = (serial: string): string => serial.toUpperCase();
const sameSerial = (one: string, other: string): boolean => serialKey(one) === serialKey(other);

/** Whether what two tell of themselves cannot be of one device: another serial, another engine, another UUID, no socket in common; in one survey, another start or other neighbours. */
export function contradicts(
  known: KnownIdentity,
  found: Pick<
    SeenIdentity,
    'name' | 'address' | 'serial' | 'engineId' | 'uuid' | 'socketMacs' | 'units' | 'interfaces' | 'now'
  >,
): boolean {
  const units = new Set(found.units.map(({ serial }) => serialKey(serial)).filter(Boolean));
  const sharesUnit = (known.unitSerials ?? []).some((serial) => units.has(serialKey(serial)));
  const otherSerial =
    known.serial !== '' && found.serial !== '' && !sameSerial(known.serial, found.serial) && !sharesUnit;
  const otherEngine = Boolean(known.engineId && found.engineId) && known.engineId !== found.engineId;
  const otherUuid = Boolean(known.uuid && found.uuid) && known.uuid !== found.uuid;
  if (otherSerial || otherEngine || otherUuid) return true;
  // whoever stands where it stood, under its name, is the same role whatever was plugged into it: sockets, which cost a look into the store, are not held against it
  if (known.name === found.name && known.address === found.address) return false;
  // a management controller knows other sockets than the system beside it
  const kinds = kindsOf(found);
  if (!(known.kinds ?? ['snmp']).some((kind) => kinds.includes(kind))) return false;
  const oneSerial = known.serial !== '' && found.serial !== '';
  if (!oneSerial && differsNow(known.now, found.now)) return true;
  const other = found.socketMacs ?? [];
  const own = other.length > 0 ? (known.socketMacs?.() ?? []) : [];
  return own.length > 0 && !own.some((mac) => other.includes(mac));
}

/**
 * Is this a device we know? By chassis serial, then management engine or bridge address, then name with address.
 * An engine id or bridge address is trusted only together with the same name or a shared address,
 * since clones carry equal engine ids. What contradicts a device that answered in this very survey is another one; what contradicts one of earlier
 * surveys is it only by its serial or UUID, or where it stands: under the same address, by the same name. Of several that fit, the one that nothing speaks against.
 * @param metNow whether a device has answered in this survey already, on another of its addresses
 */
export function matchIdentity(
  found: SeenIdentity,
  all: readonly KnownIdentity[],
  metNow: (id: number) => boolean = () => false,
): IdentityMatch | null {
  const against = new Map(all.map((candidate) => [candidate.id, contradicts(candidate, found)]));
  const isContradicted = ({ id }: KnownIdentity) => against.get(id) === true;
  const known = all
    .filter((candidate) => !(isContradicted(candidate) && metNow(candidate.id)))
    .toSorted(
      (x, y) =>
        Number(isContradicted(x)) - Number(isContradicted(y)) ||
        Number(y.address === found.address) - Number(x.address === found.address) ||
        Number(y.name === found.name) - Number(x.name === found.name) ||
        x.id - y.id,
    );
  const sharesAddress = (candidate: KnownIdentity) =>
    candidate.address === found.address || candidate.addresses.some((address) => found.addresses.includes(address));
  const differs = (candidate: KnownIdentity) =>
    found.serial !== '' && candidate.serial !== '' && !sameSerial(candidate.serial, found.serial);
  if (found.serial) {
    const match = known.find(({ serial }) => sameSerial(serial, found.serial));
    if (match) return { id: match.id, by: 'serial', replaced: false };
    // a stack whose first member changed is the same stack as long as it kept any member
    const units = found.units.map(({ serial }) => serialKey(serial)).filter(Boolean);
    const stack =
      units.length > 1
        ? known.find(
            ({ unitSerials = [] }) =>
              unitSerials.length > 1 && unitSerials.some((serial) => units.includes(serialKey(serial))),
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
      (candidate) =>
        same(candidate) &&
        (candidate.name === found.name || sharesAddress(candidate)) &&
        (!isContradicted(candidate) || (candidate.name === found.name && candidate.address === found.address)),
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
export const kindsOf = ({ interfaces }: Pick<DeviceFacts, 'interfaces'>): WayKind[] =>
  interfaces?.map(({ kind }) => kind) ?? ['snmp'];

/** Known identities, found by what a device may be recognised by: the cost of a match follows its candidates, not the estate. */
export class IdentityIndex {
  readonly #byId = new Map<number, KnownIdentity>();
  readonly #byKey = new Map<string, Set<number>>();
  /** who was set when: the last one holds an address that several are known at */
  readonly #setAt = new Map<number, number>();
  #turn = 0;

  set(known: KnownIdentity): void {
    this.#setAt.set(known.id, ++this.#turn);
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
  match(found: SeenIdentity, metNow?: (id: number) => boolean): IdentityMatch | null {
    const ids = new Set<number>();
    for (const key of keysOf({ ...found, unitSerials: found.units.map(({ serial }) => serial).filter(Boolean) }))
      for (const id of this.#byKey.get(key) ?? []) ids.add(id);
    return matchIdentity(
      found,
      [...ids].flatMap((id) => this.#byId.get(id) ?? []),
      metNow,
    );
  }

  /** The device that was last asked on an address, or else has it. */
  byAddress(address: string): number | null {
    const known = [...(this.#byKey.get(`address ${address}`) ?? [])]
      .sort((x, y) => (this.#setAt.get(y) ?? 0) - (this.#setAt.get(x) ?? 0))
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
}: Omit<KnownIdentity, 'id' | 'socketMacs'>): string[] {
  return [
    `name ${name}`,
    `address ${address}`,
    ...addresses.map((other) => `address ${other}`),
    ...(serial ? [`serial ${serialKey(serial)}`] : []),
    ...(engineId ? [`engine ${engineId}`] : []),
    ...(bridgeAddress ? [`bridge ${bridgeAddress}`] : []),
    ...(uuid ? [`uuid ${uuid}`] : []),
    ...(unitSerials.length > 1 ? unitSerials.map((unit) => `unit ${serialKey(unit)}`) : []),
    ...macs.map((mac) => `mac ${mac}`),
  ];
}
