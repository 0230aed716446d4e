import type { VolatileFacts } from '../../core/estate/facts';
import { lastAnswers } from './latestOutcomes';
import type { Db } from './database';
import { isSameMoment, surveySeconds } from './surveyMoment';
import { statements } from './statements';

/**
 * Values that a device tells another way at every look: uptime, fill levels, sensors, readings. A row says what was read in its survey and in those after it
 * until the next row, so that a device which says the same costs nothing. An uptime grows by itself: what is kept is the moment the device started.
 */
interface Kept extends Omit<VolatileFacts, 'uptimeSeconds'> {
  /** seconds since the epoch */
  startedAt?: number | null;
  /** as it was kept before the moment was */
  uptimeSeconds?: number | null;
}

const of = statements(({ $client }) => ({
  before: $client.prepare<[number, number], { body: string }>(
    'select body from volatile where device_id = ? and survey_id < ? order by survey_id desc limit 1',
  ),
  keep: $client.prepare<[number, number, string]>(
    'insert into volatile (device_id, survey_id, body) values (?, ?, ?) on conflict (device_id, survey_id) do update set body = excluded.body',
  ),
  drop: $client.prepare<[number, number]>('delete from volatile where device_id = ? and survey_id = ?'),
  newestOfAll: $client.prepare<[number], { deviceId: number; body: string | null }>(
    'select id as deviceId, (select body from volatile where device_id = device.id and survey_id <= ? order by survey_id desc limit 1) as body from device',
  ),
  upTo: $client.prepare<[number, number, number], { surveyId: number; body: string }>(
    'select survey_id as surveyId, body from volatile where device_id = ? and survey_id <= ? order by survey_id desc limit ?',
  ),
  answeredIn: $client.prepare<{ device: number; survey: number; most: number }, { surveyId: number }>(`
    select distinct survey_id as surveyId from (
      select survey_id from visit where device_id = @device and survey_id <= @survey and outcome in ('answered', 'partial')
      union all select survey_id from told where device_id = @device and survey_id <= @survey)
    order by survey_id desc limit @most`),
}));

/** Keeps what was read in a survey, unless it says what was known before. */
export function writeVolatile(
  db: Db,
  surveyId: number,
  deviceId: number,
  { uptimeSeconds, ...values }: VolatileFacts,
): void {
  const { before, keep, drop } = of(db);
  const now: Kept = {
    startedAt: uptimeSeconds === null ? null : surveySeconds(db, surveyId) - uptimeSeconds,
    ...values,
  };
  const known = before.get(deviceId, surveyId);
  if (known && isSame(JSON.parse(known.body) as Kept, now)) drop.run(deviceId, surveyId);
  else keep.run(deviceId, surveyId, JSON.stringify(now));
}

function isSame({ startedAt: before, ...known }: Kept, { startedAt: now, ...values }: Kept): boolean {
  return (
    JSON.stringify(known) === JSON.stringify(values) &&
    (before === now || (typeof before === 'number' && typeof now === 'number' && isSameMoment(before, now)))
  );
}

/** As it was at a survey in which the device answered. */
function opened(db: Db, body: string, answeredIn: number): VolatileFacts {
  const { startedAt, uptimeSeconds, ...values } = JSON.parse(body) as Kept;
  return {
    ...values,
    uptimeSeconds:
      uptimeSeconds ?? (typeof startedAt === 'number' ? Math.max(0, surveySeconds(db, answeredIn) - startedAt) : null),
  };
}

/** The values each device had when it last answered, up to a survey, of some devices or of all: one look-up a device, however many surveys there were. */
export function latestVolatile(db: Db, survey: number, devices?: number[]): Map<number, VolatileFacts> {
  if (devices)
    return new Map(
      devices.flatMap((deviceId) =>
        volatileHistory(db, deviceId, survey, 1).map(({ values }) => [deviceId, values] as const),
      ),
    );
  const answered = lastAnswers(db, survey);
  return new Map(
    of(db)
      .newestOfAll.all(survey)
      .flatMap(({ deviceId, body }) =>
        body === null ? [] : [[deviceId, opened(db, body, answered.get(deviceId) ?? survey)] as const],
      ),
  );
}

/** What one device told at each of the newest surveys in which it answered, newest first. */
export function volatileHistory(
  db: Db,
  deviceId: number,
  survey: number,
  most: number,
): { surveyId: number; values: VolatileFacts }[] {
  const rows = of(db).upTo.all(deviceId, survey, most);
  const surveys = new Set([
    ...of(db)
      .answeredIn.all({ device: deviceId, survey, most })
      .map(({ surveyId }) => surveyId),
    ...rows.map(({ surveyId }) => surveyId),
  ]);
  return [...surveys]
    .sort((x, y) => y - x)
    .slice(0, most)
    .flatMap((surveyId) => {
      const row = rows.find((candidate) => candidate.surveyId <= surveyId);
      return row ? [{ surveyId, values: opened(db, row.body, surveyId) }] : [];
    });
}
