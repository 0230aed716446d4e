import { desc, gte, isNull, or } from 'drizzle-orm';
import type { Work } from '../core/works/work';
import type { Db } from './base/database';
import { work } from './base/schema';

export type KeptWork = Work & { id: number };

const kept = ({ id, from, until, content }: typeof work.$inferSelect): KeptWork => ({
  ...(content as Omit<Work, 'from' | 'until'>),
  id,
  from,
  until,
});

/** Planned works and incidents, the latest to begin first. */
export const readWorks = (db: Db): KeptWork[] => db.select().from(work).orderBy(desc(work.from)).all().map(kept);

/** Those that are not over at a moment. */
export const openWorks = (db: Db, at: string): KeptWork[] =>
  db
    .select()
    .from(work)
    .where(or(isNull(work.until), gte(work.until, at)))
    .orderBy(work.from)
    .all()
    .map(kept);

/** The work that another system tells of by a number of its own; null where it told of none. */
export const workFrom = (db: Db, source: string, number: string): KeptWork | null =>
  readWorks(db).find((one) => one.source === source && one.number === number) ?? null;
