import type { Role } from '../estate/facts';
import { cablingOf, mainPieces, nothingAway, partsOf, type Away, type Cabling } from './cabling';

/** What nobody recognised may be a switch. */
const forwarding: ReadonlySet<Role> = new Set(['switch', 'router', 'firewall', 'unknown']);
const standingOf: Partial<Record<Role, number>> = { router: 3, firewall: 2, switch: 1 };

/** By device: 1 where what it hears on one cable gets on to another; a server on two switches is no way between them. */
export const forwardsOf = (roles: readonly Role[]): Uint8Array =>
  Uint8Array.from(roles, (role) => Number(forwarding.has(role)));

/** By device: how near it is to the heart of a network by what it is, the highest first; what routes stands before what bridges. */
export const standingsOf = (roles: readonly Role[]): Uint8Array =>
  Uint8Array.from(roles, (role) => standingOf[role] ?? 0);

/** Devices and the links between them, without anything that rests on them. */
export interface Network {
  cabling: Cabling;
  standing: Uint8Array;
  /** by place: the number of the device */
  ids: readonly number[];
  placeOf: ReadonlyMap<number, number>;
  /** by cable: the place of its link among those that were given */
  linkOf: readonly number[];
}

/** @param links by the numbers of their devices; those of a device with itself, or with one that is not given, are left out */
export function networkOf(
  devices: readonly { id: number; role: Role }[],
  links: readonly { a: number; b: number }[],
): Network {
  const placeOf = new Map(devices.map(({ id }, at) => [id, at]));
  const cables: { a: number; b: number }[] = [];
  const linkOf: number[] = [];
  links.forEach((link, at) => {
    const [a, b] = [placeOf.get(link.a), placeOf.get(link.b)];
    if (a === undefined || b === undefined || a === b) return;
    cables.push({ a, b });
    linkOf.push(at);
  });
  const roles = devices.map(({ role }) => role);
  return {
    cabling: cablingOf(devices.length, cables, forwardsOf(roles)),
    standing: standingsOf(roles),
    ids: devices.map(({ id }) => id),
    placeOf,
    linkOf,
  };
}

/** The devices that reach the largest piece of their network no longer, by their places, in the order of these. */
export function cutOffWithout(cabling: Cabling, away: Away): number[] {
  const before = partsOf(cabling, nothingAway(cabling));
  const left = partsOf(cabling, away);
  const main = mainPieces(cabling, before, left);
  const found: number[] = [];
  for (let device = 0; device < cabling.size; device++)
    if (!away.devices[device] && (left.partOf[device] ?? -1) !== main[before.partOf[device] ?? 0]) found.push(device);
  return found;
}
