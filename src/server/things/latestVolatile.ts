import type { VolatileFacts } from '../../core/estate/facts';
import type { Db } from '../../store/database';

/** The volatile values each device had when it was last read, up to a survey: one look-up a device, however many surveys there were. */
export function latestVolatile(db: Db, survey: number): Map<number, VolatileFacts> {
  const rows = db.$client.prepare<[number], { deviceId: number; body: string | null }>(`
    select id as deviceId, (select body from volatile where device_id = device.id and survey_id <= ? order by survey_id desc limit 1) as body from device`).all(survey);
  return new Map(rows.flatMap(({ deviceId, body }) => (body === null ? [] : [[deviceId, JSON.parse(body) as VolatileFacts] as const])));
}
