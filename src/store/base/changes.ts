import { factKinds } from '../../core/estate/factKinds';
import type { DeviceFacts } from '../../core/estate/facts';
import { differencesOf } from '../../core/things/comparison';
import { deviceStates } from './deviceStates';
import type { Db } from './database';
import { factsAsOf, factsTouched, type FactRow } from './facts';
import type { FactKind } from './schema';

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
    const { kind, word: thing, name, isToldTwice } = kinds;
    const differs = differencesOf(thing);
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
        for (const field of differs(before.content, now.content)) {
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
  return [...changes, ...otherStates(db, after, upTo, names)];
}

/** Devices that fare otherwise than they did: which fell silent, answer in part, or answer whole again. Those that are new have no other state. */
function otherStates(db: Db, after: number, upTo: number, names: (deviceId: number) => string): Change[] {
  const statesAt = (survey: number) => {
    const standing = deviceStates(db, survey);
    return new Map(factsAsOf<DeviceFacts>(db, 'device', survey).map((row) => [row.deviceId, standing(row)]));
  };
  const before = statesAt(after);
  return [...statesAt(upTo)].flatMap(([deviceId, { state, outcome }]): Change[] => {
    const was = before.get(deviceId)?.state;
    if (was === undefined || was === state) return [];
    const subject = names(deviceId);
    const kind = state === 'silent' ? 'silent' : 'changed';
    const what = { thing: 'device', subject, deviceId, thingId: String(deviceId), kind, field: 'state' } as const;
    return [{ ...what, survey: outcome?.surveyId ?? upTo, before: was, after: state }];
  });
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
