import type { TalkBatch } from '../core/flow/talkBatch';
import type { Db } from './base/database';
import { captureAgent } from './base/schema';

/** Who captures at a host or a mirror port, as they told of themselves last. */
export type CaptureAgent = typeof captureAgent.$inferSelect;

export const readCaptureAgents = (db: Db): CaptureAgent[] =>
  db.select().from(captureAgent).orderBy(captureAgent.point).all();

/** Keeps what an agent told of itself. */
export function heardAgent(db: Db, batch: Omit<TalkBatch, 'talks' | 'id'>, at: Date): void {
  const { point, everySeconds, packets, overflowed, heldBack } = batch;
  const told = { lastHeardAt: at.toISOString(), everySeconds, packets, overflowed, heldBack };
  db.insert(captureAgent)
    .values({ point, ...told })
    .onConflictDoUpdate({ target: captureAgent.point, set: told })
    .run();
}

/** Whether nothing was heard of an agent for longer than it should be silent. */
export const isSilentAgent = ({ lastHeardAt, everySeconds }: CaptureAgent, now: Date): boolean =>
  now.getTime() - Date.parse(lastHeardAt) > (3 * everySeconds + 60) * 1000;
