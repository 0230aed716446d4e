import type { Db } from './database';
import { statements } from './statements';
import { isSameMoment, surveySeconds } from './surveyMoment';

const of = statements(({ $client }) => ({
  newest: $client.prepare<[number, number], { body: string }>('select body from port_moment where device_id = ? and survey_id <= ? order by survey_id desc limit 1'),
  keep: $client.prepare<[number, number, string]>('insert into port_moment (device_id, survey_id, body) values (?, ?, ?) on conflict (device_id, survey_id) do update set body = excluded.body'),
  newestOfAll: $client.prepare<[number], { deviceId: number; body: string | null }>('select id as deviceId, (select body from port_moment where device_id = device.id and survey_id <= ? order by survey_id desc limit 1) as body from device'),
}));

/**
 * Since when ports have been in their state. Agents tell an age, which is another one at every look; what is kept is the moment, and only where it moved:
 * an unchanged device costs nothing.
 * @param ages seconds by port name, as told in this survey
 */
export function writePortMoments(db: Db, surveyId: number, deviceId: number, ages: Record<string, number>): void {
  const now = surveySeconds(db, surveyId);
  const moments = Object.fromEntries(Object.entries(ages).map(([port, age]) => [port, now - age]));
  const row = of(db).newest.get(deviceId, surveyId);
  const before = row ? (JSON.parse(row.body) as Record<string, number>) : null;
  const same = before !== null && Object.keys(before).length === Object.keys(moments).length && Object.entries(moments).every(([port, moment]) => isSameMoment(before[port] ?? Number.NEGATIVE_INFINITY, moment));
  if (same || (before === null && Object.keys(moments).length === 0)) return;
  of(db).keep.run(deviceId, surveyId, JSON.stringify(moments));
}

/** Since when each port of each device had been in its state at a survey, in seconds since the epoch, by device and port name. */
export function portMomentsAsOf(db: Db, surveyId: number): Map<number, Record<string, number>> {
  return new Map(of(db).newestOfAll.all(surveyId).flatMap(({ deviceId, body }) => (body === null ? [] : [[deviceId, JSON.parse(body) as Record<string, number>] as const])));
}
