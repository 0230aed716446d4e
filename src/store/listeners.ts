import type { DeviceFacts, ServiceFacts } from '../core/estate/facts';
import { tcp, udp } from '../core/flow/packet';
import type { IsListener } from '../core/flow/talk';
import type { Db } from './base/database';
import { factsAsOf } from './base/facts';

/** Who was known to listen where at a survey: on the address it told, or on all of its device’s. Each once, as `address protocol port`. */
export function listenersKnown(db: Db, survey: number): Set<string> {
  const known = new Set<string>();
  const addresses = new Map(
    factsAsOf<DeviceFacts>(db, 'device', survey).map(({ deviceId, content }) => [
      deviceId,
      [...new Set([content.address, ...content.addresses])],
    ]),
  );
  for (const { deviceId, content } of factsAsOf<ServiceFacts>(db, 'service', survey)) {
    const protocol = content.protocol === 'tcp' ? tcp : udp;
    for (const address of content.address === '*' ? (addresses.get(deviceId) ?? []) : [content.address])
      known.add(`${address} ${protocol} ${content.port}`);
  }
  return known;
}

/** Whether somebody was known to listen somewhere at a survey. */
export function listenersAt(db: Db, survey: number): IsListener {
  const known = listenersKnown(db, survey);
  return (address, protocol, port) => known.has(`${address} ${protocol} ${port}`);
}

/** All addresses of devices that were known at a survey. */
export const deviceAddresses = (db: Db, survey: number): ReadonlySet<string> =>
  new Set(
    factsAsOf<DeviceFacts>(db, 'device', survey).flatMap(({ content }) => [content.address, ...content.addresses]),
  );
