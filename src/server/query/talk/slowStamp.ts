import type { Db } from '../../../store/base/database';
import { captureStamp } from '../../../store/talk/captures';

/** What exporters and agents add by the minute counts for what is costly to work out only so often. */
const restMs = 15 * 60_000;

const kept = new WeakMap<Db, { captures: string; stamp: string; at: number }>();

/** What is another whenever a capture came or went, and now and then where more comes of one: for what is worked out over all talk. */
export function slowTalkStamp(db: Db, now = Date.now()): string {
  const stamp = captureStamp(db);
  const captures = stamp.split(' ').slice(0, 2).join(' ');
  const known = kept.get(db);
  if (known && (known.stamp === stamp || (known.captures === captures && now - known.at < restMs))) return known.stamp;
  kept.set(db, { captures, stamp, at: now });
  return stamp;
}
