import type { AttachmentFacts } from '../../src/core/switching/placement';
import type { Network } from './network';

export interface PlacementScore {
  endpoints: number;
  placed: number;
  right: number;
  /** of those placed, how many hang there */
  precision: number;
  /** of those that were heard anywhere, how many are placed where they hang */
  recall: number;
  byKind: Record<string, { heard: number; placed: number; right: number }>;
}

const share = (part: number, whole: number) => (whole === 0 ? 1 : Math.round((part / whole) * 100_000) / 100_000);

/** How placements stand to what is true. */
export function scorePlacement(
  { endpoints }: Network,
  attachments: Iterable<Pick<AttachmentFacts, 'mac' | 'deviceId' | 'port'>>,
): PlacementScore {
  const found = new Map<string, string>();
  for (const { mac, deviceId, port } of attachments) if (deviceId !== null) found.set(mac, `${deviceId} ${port}`);
  const score: PlacementScore = {
    endpoints: endpoints.length,
    placed: 0,
    right: 0,
    precision: 0,
    recall: 0,
    byKind: {},
  };
  let heard = 0;
  for (const { mac, places, kind, heard: sent } of endpoints) {
    const own = (score.byKind[kind] ??= { heard: 0, placed: 0, right: 0 });
    if (sent) {
      heard++;
      own.heard++;
    }
    const place = found.get(mac);
    if (place === undefined) continue;
    score.placed++;
    own.placed++;
    if (!places.some(({ deviceId, port }) => place === `${deviceId} ${port}`)) continue;
    score.right++;
    own.right++;
  }
  score.precision = share(score.right, score.placed);
  score.recall = share(score.right, heard);
  return score;
}
