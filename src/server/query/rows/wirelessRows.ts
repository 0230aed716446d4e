import type { VolatileFacts, WlanFacts } from '../../../core/estate/facts';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { factsAsOf } from '../../../store/base/facts';
import { latestVolatile } from '../../../store/base/volatileValues';
import { deviceNames, type Builder } from './rowBuilder';

/** The wireless networks of each controller, with how many machines were on them when last asked. */
export const wlans: Builder = ({ db, survey, devices }) => {
  const names = deviceNames(db, survey, devices);
  const volatiles: Map<number, VolatileFacts> = latestVolatile(db, survey, devices);
  return factsAsOf<WlanFacts>(db, 'wlan', survey, devices)
    .map(({ deviceId, key, content }) => ({
      id: `${deviceId}:${key}`,
      deviceId,
      device: names.get(deviceId) ?? '',
      ...content,
      clients: volatiles.get(deviceId)?.wlanClients?.[content.name] ?? null,
    }))
    .sort((x, y) => compareNaturally(x.name, y.name));
};
