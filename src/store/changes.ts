import { and, eq, isNotNull } from 'drizzle-orm';
import { changedFields } from '../core/estate/difference';
import type { DeviceFacts } from '../core/estate/facts';
import type { Db } from './database';
import { factsAsOf, factsTouched, type FactRow } from './facts';
import { told, visit, type FactKind } from './schema';

export type ChangeKind = 'added' | 'removed' | 'changed' | 'replaced' | 'silent';

export interface Change {
  survey: number;
  /** what kind of thing: device, module, port, address, link, endpoint */
  thing: string;
  subject: string;
  deviceId: number;
  kind: ChangeKind;
  field: string;
  before: unknown;
  after: unknown;
}

const compared: { kind: FactKind; thing: string; name: (row: FactRow) => string; without: string[] }[] = [
  { kind: 'device', thing: 'device', name: () => '', without: ['engineId', 'credential', 'signature', 'units', 'bridgeAddress'] },
  { kind: 'module', thing: 'module', name: ({ content }) => String(content.path), without: ['path', 'parent', 'order', 'empty'] },
  { kind: 'port', thing: 'port', name: ({ content }) => String(content.name), without: ['index', 'physical', 'stp', 'mac', 'poe', 'autoNegotiation'] },
  { kind: 'link', thing: 'link', name: ({ content }) => linkName(content), without: ['a', 'b', 'evidence'] },
  { kind: 'service', thing: 'service', name: ({ content }) => `${content.process ? `${String(content.process)} on ` : ''}${String(content.protocol)} ${String(content.port)}`, without: ['arguments'] },
  { kind: 'software', thing: 'software', name: ({ content }) => String(content.name), without: [] },
  { kind: 'machine', thing: 'machine', name: ({ content }) => String(content.name), without: ['uuid'] },
  { kind: 'peer', thing: 'peer', name: ({ content }) => `${String(content.protocol).toUpperCase()} ${String(content.address)}`, without: ['identifier'] },
  { kind: 'fault', thing: 'fault', name: ({ content }) => `${String(content.part)}: ${String(content.message)}`, without: ['since', 'action'] },
  { kind: 'attachment', thing: 'endpoint', name: ({ key }) => key, without: ['mac', 'evidence', 'ownDeviceId', 'deviceId'] },
];

function linkName(content: Record<string, unknown>): string {
  const { a, b } = content as { a: { device: string; port: string }; b: { device: string; port: string } };
  return `${a.device} ${a.port} — ${b.device} ${b.port}`;
}

/**
 * The difference between two surveys, in words a person can follow: one row per changed field, one per thing that came or went.
 * Parts of a device that came or went as a whole are told by the device's own row.
 */
export function changesBetween(db: Db, after: number, upTo: number): Change[] {
  const names = deviceNames(db, upTo);
  const changes: Change[] = [];
  const wholeDevices = new Set<number>();
  for (const { kind, thing, name, without } of compared) {
    const touched = new Map<string, FactRow[]>();
    for (const row of factsTouched<Record<string, unknown>>(db, kind, after, upTo)) {
      const key = `${row.deviceId} ${row.key}`;
      touched.set(key, [...(touched.get(key) ?? []), row]);
    }
    for (const rows of touched.values()) {
      const before = rows.find((row) => row.fromSurvey <= after);
      const latest = rows.at(-1);
      if (!latest) continue;
      const now = latest.fromSurvey <= upTo && (latest.untilSurvey === null || latest.untilSurvey > upTo) ? latest : undefined;
      const device = names.get(latest.deviceId) ?? '';
      const own = name(latest);
      const subject = own.startsWith(device) ? own : [device, own].filter(Boolean).join(' ');
      const base = { thing, subject, deviceId: latest.deviceId };
      if (!before && !now) continue;
      if (!before && now) {
        if (thing === 'device') wholeDevices.add(latest.deviceId);
        else if (wholeDevices.has(latest.deviceId)) continue;
        changes.push({ ...base, survey: now.fromSurvey, kind: 'added', field: '', before: null, after: own || device });
      } else if (before && !now) {
        changes.push({ ...base, survey: before.untilSurvey ?? upTo, kind: 'removed', field: '', before: own || device, after: null });
      } else if (before && now) {
        const replaced = (thing === 'device' || thing === 'module') && before.content.serial !== now.content.serial && Boolean(before.content.serial) && Boolean(now.content.serial);
        for (const field of changedFields(before.content, now.content)) {
          if (without.includes(field.field)) continue;
          changes.push({ ...base, survey: now.fromSurvey, kind: replaced && field.field === 'serial' ? 'replaced' : 'changed', ...field });
        }
      }
    }
  }
  return [...changes, ...silences(db, after, upTo, names)];
}

/** Devices whose latest visit up to `upTo` got no answer, and which had one at `after`. */
function silences(db: Db, after: number, upTo: number, names: Map<number, string>): Change[] {
  const before = latestOutcomes(db, after);
  const now = latestOutcomes(db, upTo);
  return [...now].flatMap(([deviceId, { outcome, surveyId }]) =>
    outcome === 'silent' && before.get(deviceId)?.outcome !== 'silent' && before.has(deviceId)
      ? [{ survey: surveyId, thing: 'device', subject: names.get(deviceId) ?? '', deviceId, kind: 'silent' as const, field: 'state', before: 'answering', after: 'silent' }]
      : [],
  );
}

export interface LatestOutcome {
  surveyId: number;
  outcome: string;
  reason: string | null;
  address: string;
  missing: { part: string; reason: string }[];
  seconds: number;
}

/** The newest visit of each device up to a survey. An answer on one address outweighs silence on another in the same survey. */
export function latestOutcomes(db: Db, upTo: number): Map<number, LatestOutcome> {
  const rows = db.select().from(visit).where(and(isNotNull(visit.deviceId), eq(visit.state, 'done'))).all();
  const latest = new Map<number, LatestOutcome>();
  const weight = (outcome: string) => (outcome === 'answered' ? 2 : outcome === 'partial' ? 1 : 0);
  for (const row of rows) {
    if (row.deviceId === null || row.surveyId > upTo || row.outcome === null) continue;
    const known = latest.get(row.deviceId);
    if (known && (known.surveyId > row.surveyId || (known.surveyId === row.surveyId && weight(known.outcome) >= weight(row.outcome)))) continue;
    latest.set(row.deviceId, {
      surveyId: row.surveyId, outcome: row.outcome, reason: row.reason, address: row.address,
      missing: (row.missing as { part: string; reason: string }[] | null) ?? [], seconds: (row.seconds ?? 0) / 1000,
    });
  }
  for (const { deviceId, surveyId, by } of db.select().from(told).all()) {
    const known = latest.get(deviceId);
    if (surveyId > upTo || (known && (known.surveyId > surveyId || (known.surveyId === surveyId && weight(known.outcome) > 0)))) continue;
    latest.set(deviceId, { surveyId, outcome: 'answered', reason: null, address: by, missing: [], seconds: 0 });
  }
  return latest;
}

function deviceNames(db: Db, upTo: number): Map<number, string> {
  return new Map(factsAsOf<DeviceFacts>(db, 'device', upTo).map(({ deviceId, content }) => [deviceId, content.name]));
}
