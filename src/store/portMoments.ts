import { inTransaction, type Db } from './database';

/** Two looks at the same change may tell moments this far apart: a survey takes its time, and clocks drift. */
const toleranceSeconds = 300;

/**
 * Since when ports have been in their state. Agents tell an age, which is another one at every look; what is kept is the moment, and only where it moved:
 * an unchanged device costs nothing.
 * @param ages seconds by port name, as told in this survey
 */
export function writePortMoments(db: Db, surveyId: number, deviceId: number, ages: Record<string, number>): void {
  const { $client } = db;
  const now = surveySeconds(db, surveyId);
  const moments = Object.fromEntries(Object.entries(ages).map(([port, age]) => [port, now - age]));
  const row = $client.prepare<[number, number], { body: string }>('select body from port_moment where device_id = ? and survey_id <= ? order by survey_id desc limit 1').get(deviceId, surveyId);
  const before = row ? (JSON.parse(row.body) as Record<string, number>) : null;
  const same = before !== null && Object.keys(before).length === Object.keys(moments).length && Object.entries(moments).every(([port, moment]) => Math.abs((before[port] ?? Number.NEGATIVE_INFINITY) - moment) <= toleranceSeconds);
  if (same || (before === null && Object.keys(moments).length === 0)) return;
  inTransaction(db, () => {
    $client.prepare('insert into port_moment (device_id, survey_id, body) values (?, ?, ?) on conflict (device_id, survey_id) do update set body = excluded.body').run(deviceId, surveyId, JSON.stringify(moments));
  });
}

/** For how many seconds each port of each device had been in its state at a survey, by device and port name. */
export function portAgesAsOf(db: Db, surveyId: number): Map<number, Record<string, number>> {
  const now = surveySeconds(db, surveyId);
  const rows = db.$client.prepare<[number], { deviceId: number; body: string | null }>('select id as deviceId, (select body from port_moment where device_id = device.id and survey_id <= ? order by survey_id desc limit 1) as body from device').all(surveyId);
  return new Map(rows.flatMap(({ deviceId, body }) => (body === null ? [] : [[deviceId, Object.fromEntries(Object.entries(JSON.parse(body) as Record<string, number>).map(([port, moment]) => [port, Math.max(0, Math.round(now - moment))]))] as const])));
}

function surveySeconds(db: Db, surveyId: number): number {
  const row = db.$client.prepare<[number], { startedAt: string }>('select started_at as startedAt from survey where id = ?').get(surveyId);
  return Math.round(Date.parse(row?.startedAt ?? '') / 1000) || 0;
}
