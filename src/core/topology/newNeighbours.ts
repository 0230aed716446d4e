import type { NeighbourFacts } from '../estate/facts';
import { shortName } from './nameIndex';

interface Heard {
  deviceId: number;
  neighbour: NeighbourFacts;
}

/** Who carries the traffic of others: a phone that was moved is no news for the network. */
const carrying = ['bridge', 'router', 'wlanAccessPoint'];

const placeOf = ({ deviceId, neighbour }: Heard) => `${deviceId} ${neighbour.port}`;
const nameOf = ({ neighbour: { systemName, chassisId } }: Heard) => (systemName ? shortName(systemName) : chassisId);
/** the port as it calls itself, where that is a name */
const named = ({ neighbour: { portId, portIdSubtype } }: Heard) =>
  portIdSubtype === 'interfaceName' || portIdSubtype === 'local' ? ` ${portId}` : '';

/**
 * Ports at which somebody is heard who was not there at the survey before, of those that carry the traffic of others (IEEE 802.1AB capabilities). A neighbour that only got another name, at the same chassis
 * or under the same name with another chassis, is the same.
 * @param comparable whether a device answered both times: of another one nobody knows what it heard
 */
export function newNeighbours(
  then: readonly Heard[],
  now: readonly Heard[],
  comparable: (deviceId: number) => boolean,
): { deviceId: number; port: string; words: string }[] {
  const before = new Map<string, Heard[]>();
  for (const heard of then) before.set(placeOf(heard), [...(before.get(placeOf(heard)) ?? []), heard]);
  const found = new Map<string, { deviceId: number; port: string; words: string }>();
  for (const heard of now) {
    const { deviceId, neighbour } = heard;
    if (
      !comparable(deviceId) ||
      !neighbour.capabilities.some((capability) => carrying.includes(capability)) ||
      neighbour.capabilities.includes('telephone')
    )
      continue;
    const known = before.get(placeOf(heard)) ?? [];
    if (
      known.some(
        (other) =>
          other.neighbour.chassisId === neighbour.chassisId ||
          (nameOf(other) === nameOf(heard) && neighbour.systemName !== ''),
      )
    )
      continue;
    const were = known.map((other) => `${nameOf(other)}${named(other)}`);
    found.set(placeOf(heard), {
      deviceId,
      port: neighbour.port,
      words: `${nameOf(heard)}${named(heard)}, ${were.length > 0 ? `before ${were.join(', ')}` : 'nobody before'}`,
    });
  }
  return [...found.values()];
}
