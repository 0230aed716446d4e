import { and, desc, eq, inArray, max } from 'drizzle-orm';
import type { PlannedSet, PortAct, PortActState, PortSettings } from '../core/acting/portAct';
import { inTransaction, type Db } from './base/database';
import { queueJob } from './jobs';
import { portAct } from './base/schema';

export type KeptPortAct = typeof portAct.$inferSelect;

/** Somebody else is at work on the same device. */
export class PortBusyError extends Error {
  override name = 'PortBusyError';
}

export interface WantedPortAct {
  who: string;
  deviceId: number;
  device: string;
  port: string;
  act: PortAct;
  forced: boolean;
  seen: PortSettings;
  undoes: number | null;
}

/** Job of an act: its number in `port_act`. */
export interface PortActJob {
  actId: number;
}
/** Job of a look at a port before anything is done to it. */
export interface PortLookJob {
  deviceId: number;
  port: string;
}

const unfinished: PortActState[] = ['queued', 'sending'];

/** Queues an act. @throws PortBusyError while another one on the same device is not over, or where the act that it takes back was taken back already */
export function queuePortAct(db: Db, wanted: WantedPortAct, now = new Date()): { actId: number; jobId: number } {
  return inTransaction(db, () => {
    const busy = db
      .select()
      .from(portAct)
      .where(and(eq(portAct.deviceId, wanted.deviceId), inArray(portAct.state, unfinished)))
      .get();
    if (busy)
      throw new PortBusyError(`${busy.who} is at work on port ${busy.port} of ${busy.device}: wait until that is over`);
    if (
      wanted.undoes !== null &&
      db
        .select({ id: portAct.id })
        .from(portAct)
        .where(and(eq(portAct.undoes, wanted.undoes), eq(portAct.state, 'done')))
        .get()
    )
      throw new PortBusyError('That was taken back already');
    const { id: actId } = db
      .insert(portAct)
      .values({ ...wanted, at: now.toISOString(), state: 'queued', sent: [] })
      .returning({ id: portAct.id })
      .get();
    const jobId = queueJob(db, 'portAct', { actId } satisfies PortActJob, now);
    return { actId, jobId };
  });
}

export const queuePortLook = (db: Db, body: PortLookJob): number => queueJob(db, 'portLook', body);

export const readPortAct = (db: Db, id: number): KeptPortAct | null =>
  db.select().from(portAct).where(eq(portAct.id, id)).get() ?? null;

/** Notes that something goes out, before it does: what broke off later is known to have been sent. */
export function noteSent(db: Db, id: number, set: PlannedSet, credential: string, now = new Date()): void {
  inTransaction(db, () => {
    const sent = readPortAct(db, id)?.sent ?? [];
    db.update(portAct)
      .set({ state: 'sending', credential, sent: [...sent, { ...set, at: now.toISOString() }] })
      .where(eq(portAct.id, id))
      .run();
  });
}

export function endPortAct(
  db: Db,
  id: number,
  outcome: { state: PortActState; after?: PortSettings | null; reason?: string; remedy?: string; credential?: string },
  now = new Date(),
): void {
  db.update(portAct)
    .set({ ...outcome, endedAt: now.toISOString() })
    .where(eq(portAct.id, id))
    .run();
}

/** Acts, newest first, each with the number of the one that took it back. */
export function recentPortActs(
  db: Db,
  where: { deviceId?: number; port?: string },
  most: number,
): (KeptPortAct & { undoneBy: number | null })[] {
  const rows = db
    .select()
    .from(portAct)
    .where(
      and(
        ...(where.deviceId === undefined ? [] : [eq(portAct.deviceId, where.deviceId)]),
        ...(where.port === undefined ? [] : [eq(portAct.port, where.port)]),
      ),
    )
    .orderBy(desc(portAct.id))
    .limit(most)
    .all();
  const undone = new Map(
    db
      .select({ undoes: portAct.undoes, id: max(portAct.id) })
      .from(portAct)
      .where(
        and(
          eq(portAct.state, 'done'),
          inArray(
            portAct.undoes,
            rows.map(({ id }) => id),
          ),
        ),
      )
      .groupBy(portAct.undoes)
      .all()
      .map(({ undoes, id }) => [undoes, id]),
  );
  return rows.map((row) => ({ ...row, undoneBy: undone.get(row.id) ?? null }));
}
