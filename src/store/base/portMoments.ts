import type { Db } from './database';
import { statements } from './statements';
import { isSameMoment, surveySeconds } from './surveyMoment';

const of = statements(({ $client }) => ({
  newest: $client.prepare<[number, number], { body: string }>(
    'select body from port_moment where device_id = ? and survey_id <= ? order by survey_id desc limit 1',
  ),
  keep: $client.prepare<[number, number, string]>(
    'insert into port_moment (device_id, survey_id, body) values (?, ?, ?) on conflict (device_id, survey_id) do update set body = excluded.body',
  ),
  newestOfAll: $client.prepare<[number], { deviceId: number; surveyId: number | null }>(
    'select id as deviceId, (select survey_id from port_moment where device_id = device.id and survey_id <= ? order by survey_id desc limit 1) as surveyId from device',
  ),
  at: $client.prepare<[number, number], { body: string }>(
    'select body from port_moment where device_id = ? and survey_id = ?',
  ),
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
  const same =
    before !== null &&
    Object.keys(before).length === Object.keys(moments).length &&
    Object.entries(moments).every(([port, moment]) => isSameMoment(before[port] ?? Number.NEGATIVE_INFINITY, moment));
  if (same || (before === null && Object.keys(moments).length === 0)) return;
  of(db).keep.run(deviceId, surveyId, JSON.stringify(moments));
}

/** In which survey the moments of each device's ports were written down that hold at a survey. */
export function portMomentSurveys(db: Db, surveyId: number): { deviceId: number; surveyId: number }[] {
  return of(db)
    .newestOfAll.all(surveyId)
    .flatMap(({ deviceId, surveyId: written }) => (written === null ? [] : [{ deviceId, surveyId: written }]));
}

/** Since when the ports of a device had been in their state, as written down in a survey: seconds since the epoch, by port name. */
export function portMomentsWritten(db: Db, deviceId: number, surveyId: number): Record<string, number> {
  const row = of(db).at.get(deviceId, surveyId);
  return row ? (JSON.parse(row.body) as Record<string, number>) : {};
}

/** The same as of a survey. */
export function portMomentsOf(db: Db, deviceId: number, surveyId: number): Record<string, number> {
  const row = of(db).newest.get(deviceId, surveyId);
  return row ? (JSON.parse(row.body) as Record<string, number>) : {};
}
