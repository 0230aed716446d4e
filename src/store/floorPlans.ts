import { and, asc, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import { emptyLayout, type PlanLayout } from '../core/floor/floorPlan';
import type { PictureHead } from '../core/floor/pictureSize';
import type { Db } from './base/database';
import { floorPlan } from './base/schema';

/** A plan without its picture. */
export type KeptFloorPlan = Omit<typeof floorPlan.$inferSelect, 'picture'>;

/** Somebody wrote the plan meanwhile. */
export class StalePlanError extends Error {
  override name = 'StalePlanError';
}

const {
  id: ownId,
  site,
  name,
  mediaType,
  width,
  height,
  layout,
  revision,
  changedAt,
  changedBy,
  deletedAt,
} = floorPlan;
const shown = { id: ownId, site, name, mediaType, width, height, layout, revision, changedAt, changedBy, deletedAt };

export const listFloorPlans = (db: Db): KeptFloorPlan[] =>
  db
    .select(shown)
    .from(floorPlan)
    .where(isNull(floorPlan.deletedAt))
    .orderBy(asc(floorPlan.site), asc(floorPlan.name))
    .all();

export const readFloorPlan = (db: Db, id: number): KeptFloorPlan | null =>
  db
    .select(shown)
    .from(floorPlan)
    .where(and(eq(floorPlan.id, id), isNull(floorPlan.deletedAt)))
    .get() ?? null;

export const readPicture = (db: Db, id: number): { mediaType: string; picture: Buffer; revision: number } | null =>
  db
    .select({ mediaType: floorPlan.mediaType, picture: floorPlan.picture, revision: floorPlan.revision })
    .from(floorPlan)
    .where(eq(floorPlan.id, id))
    .get() ?? null;

export function addFloorPlan(
  db: Db,
  { who, head, ...given }: { site: string; name: string; who: string; head: PictureHead; picture: Buffer },
  now = new Date(),
): number {
  return db
    .insert(floorPlan)
    .values({ ...given, ...head, layout: emptyLayout, revision: 1, changedAt: now.toISOString(), changedBy: who })
    .returning({ id: floorPlan.id })
    .get().id;
}

/** What is written of a plan: what it is called, what is drawn on it, its picture. @param seen the revision that was seen @returns the new one @throws StalePlanError */
export function writeFloorPlan(
  db: Db,
  id: number,
  seen: number,
  who: string,
  change: { site?: string; name?: string; layout?: PlanLayout; picture?: Buffer; head?: PictureHead },
  now = new Date(),
): number {
  const { head, ...more } = change;
  const written = db
    .update(floorPlan)
    .set({ ...more, ...head, revision: seen + 1, changedAt: now.toISOString(), changedBy: who })
    .where(and(eq(floorPlan.id, id), eq(floorPlan.revision, seen), isNull(floorPlan.deletedAt)))
    .run().changes;
  if (written === 0) throw new StalePlanError('Somebody changed this plan meanwhile');
  return seen + 1;
}

/** Takes a plan away; it can be brought back. @returns what it was called, or null where there is none */
export const deleteFloorPlan = (db: Db, id: number, now = new Date()): string | null =>
  db
    .update(floorPlan)
    .set({ deletedAt: now.toISOString() })
    .where(and(eq(floorPlan.id, id), isNull(floorPlan.deletedAt)))
    .returning({ name: floorPlan.name })
    .get()?.name ?? null;

export const restoreFloorPlan = (db: Db, id: number): string | null =>
  db
    .update(floorPlan)
    .set({ deletedAt: null })
    .where(and(eq(floorPlan.id, id), isNotNull(floorPlan.deletedAt)))
    .returning({ name: floorPlan.name })
    .get()?.name ?? null;

/** Another text wherever a plan was written, deleted or brought back. */
export const planStamp = (db: Db): string =>
  db
    .select({ stamp: sql<string>`coalesce(sum(revision), 0) || ' ' || count(*)` })
    .from(floorPlan)
    .where(isNull(floorPlan.deletedAt))
    .get()?.stamp ?? '';
