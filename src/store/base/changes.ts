import type { Gap } from '../../core/estate/gap';
import { changedFields } from '../../core/estate/difference';
import { factKinds } from '../../core/estate/factKinds';
import type { DeviceFacts } from '../../core/estate/facts';
import type { Db } from './database';
import { factsAsOf, factsTouched, type FactRow } from './facts';
import type { FactKind } from './schema';
import { unpackWords } from './visitCodec';

export type ChangeKind = 'added' | 'removed' | 'changed' | 'replaced' | 'silent';

export interface Change {
  survey: number;
  /** what kind of thing: device, module, port, address, link, endpoint */
  thing: string;
  subject: string;
  deviceId: number;
  /** which of its kind it is, as its own table numbers it */
  thingId: string;
  kind: ChangeKind;
  field: string;
  before: unknown;
  after: unknown;
}

const compared = factKinds.flatMap(({ kind, changes }) => (changes ? [{ kind: kind as FactKind, ...changes }] : []));

/** How a fact is numbered in the table of its thing. */
function numberOf({ word, isKeyedAlone, thingId }: (typeof compared)[number], row: FactRow): string {
  if (word === 'device') return String(row.deviceId);
  if (thingId) return thingId(row.content);
  return isKeyedAlone ? row.key : `${row.deviceId}:${row.key}`;
}

/** Of what both ends tell: whether it was there at one moment and not at the other, whoever tells of it; each once. */
function comesOrGoes(db: Db, kinds: (typeof compared)[number], after: number, upTo: number) {
  const heldAt = (survey: number) =>
    new Set(factsAsOf<Record<string, unknown>>(db, kinds.kind, survey).map((row) => numberOf(kinds, row)));
  const [before, now] = [heldAt(after), heldAt(upTo)];
  const told = new Set<string>();
  return (id: string): boolean => {
    if (before.has(id) === now.has(id) || told.has(id)) return false;
    told.add(id);
    return true;
  };
}

/**
 * The difference between two surveys, in words a person can follow: one row per changed field, one per thing that came or went.
 * Parts of a device that came or went as a whole are told by the device's own row.
 */
export function changesBetween(db: Db, after: number, upTo: number): Change[] {
  const names = nameReader(db, upTo);
  const changes: Change[] = [];
  const wholeDevices = new Set<number>();
  for (const kinds of compared) {
    const { kind, word: thing, name, without, isToldTwice } = kinds;
    const isOther = isToldTwice ? comesOrGoes(db, kinds, after, upTo) : null;
    const touched = new Map<string, FactRow[]>();
    for (const row of factsTouched<Record<string, unknown>>(db, kind, after, upTo)) {
      const key = `${row.deviceId} ${row.key}`;
      touched.set(key, [...(touched.get(key) ?? []), row]);
    }
    for (const rows of touched.values()) {
      const before = rows.find((row) => row.fromSurvey <= after);
      const latest = rows.at(-1);
      if (!latest) continue;
      const now =
        latest.fromSurvey <= upTo && (latest.untilSurvey === null || latest.untilSurvey > upTo) ? latest : undefined;
      const device = names(latest.deviceId);
      const own = name(latest.content, latest.key);
      const subject = isToldTwice || own.startsWith(device) ? own : [device, own].filter(Boolean).join(' ');
      const base = {
        thing,
        subject,
        deviceId: latest.deviceId,
        thingId: numberOf(kinds, latest),
      };
      if (!before && !now) continue;
      if (isOther && !isOther(base.thingId)) continue;
      if (!before && now) {
        if (thing === 'device') wholeDevices.add(latest.deviceId);
        else if (wholeDevices.has(latest.deviceId)) continue;
        changes.push({ ...base, survey: now.fromSurvey, kind: 'added', field: '', before: null, after: own || device });
      } else if (before && !now) {
        changes.push({
          ...base,
          survey: before.untilSurvey ?? upTo,
          kind: 'removed',
          field: '',
          before: own || device,
          after: null,
        });
      } else if (before && now) {
        const replaced =
          (thing === 'device' || thing === 'module') &&
          before.content.serial !== now.content.serial &&
          Boolean(before.content.serial) &&
          Boolean(now.content.serial);
        for (const field of changedFields(before.content, now.content)) {
          if (without.includes(field.field)) continue;
          changes.push({
            ...base,
            survey: now.fromSurvey,
            kind: replaced && field.field === 'serial' ? 'replaced' : 'changed',
            ...field,
          });
        }
      }
    }
  }
  return [...changes, ...silences(db, after, upTo, names)];
}

/** Devices whose latest visit up to `upTo` got no answer, and which had one at `after`. */
function silences(db: Db, after: number, upTo: number, names: (deviceId: number) => string): Change[] {
  const before = latestOutcomes(db, after);
  const now = latestOutcomes(db, upTo);
  return [...now].flatMap(([deviceId, { outcome, surveyId }]) =>
    outcome === 'silent' && before.get(deviceId)?.outcome !== 'silent' && before.has(deviceId)
      ? [
          {
            survey: surveyId,
            thing: 'device',
            subject: names(deviceId),
            deviceId,
            thingId: String(deviceId),
            kind: 'silent' as const,
            field: 'state',
            before: 'answering',
            after: 'silent',
          },
        ]
      : [],
  );
}

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
  return latest;
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

/** Names of devices as of a survey, looked up one at a time: few are touched. */
function nameReader(db: Db, upTo: number): (deviceId: number) => string {
  const known = new Map<number, string>();
  return (deviceId) => {
    let name = known.get(deviceId);
    if (name === undefined)
      known.set(deviceId, (name = factsAsOf<DeviceFacts>(db, 'device', upTo, [deviceId])[0]?.content.name ?? ''));
    return name;
  };
}
