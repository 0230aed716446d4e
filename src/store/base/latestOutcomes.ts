import type { DeviceFacts } from '../../core/estate/facts';
import type { Gap } from '../../core/estate/gap';
import type { Db } from './database';
import { factsAsOf } from './facts';
import { unpackWords } from './visitCodec';

export interface LatestOutcome {
  surveyId: number;
  outcome: string;
  reason: string | null;
  address: string;
  missing: Gap[];
  seconds: number;
}

interface VisitRow {
  deviceId: number;
  surveyId: number;
  outcome: string;
  reason: string | null;
  address: string;
  missing: string | null;
  milliseconds: number | null;
}

/**
 * The newest visit of each device up to a survey. An answer on one address outweighs silence on another in the same survey. Each device's newest
 * is looked up by index: the cost follows the devices, not how many surveys there were.
 */
export function latestOutcomes(db: Db, upTo: number): Map<number, LatestOutcome> {
  const newest = db.$client.prepare<[number], VisitRow>(`
    select visit.device_id as deviceId, visit.survey_id as surveyId, outcome, reason, address, missing, milliseconds from device cross join visit indexed by visit_device on visit.device_id = device.id
      and visit.survey_id = (select survey_id from visit as newest where newest.device_id = device.id and newest.survey_id <= ? and newest.state = 'done' and newest.outcome is not null order by newest.survey_id desc limit 1)
    where visit.state = 'done' and visit.outcome is not null`);
  const latest = new Map<number, LatestOutcome>();
  const weight = (outcome: string) => (outcome === 'answered' ? 2 : outcome === 'partial' ? 1 : 0);
  for (const { deviceId, missing, milliseconds, ...row } of newest.all(upTo)) {
    const known = latest.get(deviceId);
    if (known && weight(known.outcome) >= weight(row.outcome)) continue;
    latest.set(deviceId, {
      ...row,
      reason: row.reason === null ? null : unpackWords(row.reason),
      missing: missing === null ? [] : ((JSON.parse(missing) as LatestOutcome['missing'] | null) ?? []),
      seconds: (milliseconds ?? 0) / 1000,
    });
  }
  for (const { deviceId, surveyId, by } of latestTold(db, upTo)) {
    const known = latest.get(deviceId);
    if (known && (known.surveyId > surveyId || (known.surveyId === surveyId && weight(known.outcome) > 0))) continue;
    latest.set(deviceId, { surveyId, outcome: 'answered', reason: null, address: by, missing: [], seconds: 0 });
  }
  for (const { deviceId, surveyId, address, by } of newestDisplaced(db, upTo)) {
    const known = latest.get(deviceId);
    if (known && (known.surveyId > surveyId || (known.surveyId === surveyId && weight(known.outcome) > 0))) continue;
    const [other] = factsAsOf<DeviceFacts>(db, 'device', upTo, [by]);
    const reason = `${other ? `${other.content.name}, another device,` : 'another device'} answers at ${address} now: it was moved or replaced`;
    latest.set(deviceId, { surveyId, outcome: 'silent', reason, address, missing: [], seconds: 0 });
  }
  return latest;
}

/** Devices at whose address another one answered, each the last time. */
function newestDisplaced(db: Db, upTo: number) {
  return db.$client
    .prepare<[number], { deviceId: number; surveyId: number; address: string; by: number }>(
      'select device_id as deviceId, max(survey_id) as surveyId, address, "by" from displaced where survey_id <= ? group by device_id',
    )
    .all(upTo);
}

/** In which survey each device was last told of by a controller, and by which. */
function latestTold(db: Db, upTo: number): { deviceId: number; surveyId: number; by: string }[] {
  return db.$client
    .prepare<[number], { deviceId: number; surveyId: number; by: string }>(
      'select device_id as deviceId, max(survey_id) as surveyId, "by" from told where survey_id <= ? group by device_id',
    )
    .all(upTo);
}

/** The survey in which each device last answered, itself or through a controller. */
export function lastAnswers(db: Db, upTo: number): Map<number, number> {
  const rows = db.$client
    .prepare<[number], { deviceId: number; surveyId: number | null }>(
      `
    select id as deviceId, (select survey_id from visit where device_id = device.id and survey_id <= ? and outcome in ('answered', 'partial') order by survey_id desc limit 1) as surveyId from device`,
    )
    .all(upTo);
  const last = new Map<number, number>();
  for (const { deviceId, surveyId } of rows) if (surveyId !== null) last.set(deviceId, surveyId);
  for (const { deviceId, surveyId } of latestTold(db, upTo))
    last.set(deviceId, Math.max(surveyId, last.get(deviceId) ?? 0));
  return last;
}
