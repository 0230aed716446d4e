import { lte } from 'drizzle-orm';
import type { VolatileFacts } from '../../core/estate/facts';
import type { Db } from '../../store/database';
import { volatile } from '../../store/schema';

/** The values of each device that were newest at a survey. */
export function latestVolatile(db: Db, survey: number): Map<number, VolatileFacts & { portAges?: Record<string, number> }> {
  const rows = db.select().from(volatile).where(lte(volatile.surveyId, survey)).orderBy(volatile.surveyId).all();
  return new Map(rows.map(({ deviceId, body }) => [deviceId, body as VolatileFacts & { portAges?: Record<string, number> }]));
}
