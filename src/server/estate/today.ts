import { remedyOfGap, type Gap } from '../../core/estate/gap';
import { fieldWord } from '../../core/things/changeWords';
import type { Db, Store } from '../../store/base/database';
import { isSilentAgent, readCaptureAgents } from '../../store/captureAgents';
import { latestOutcomes } from '../../store/base/latestOutcomes';
import { lastOfKind } from '../../store/jobs';
import { failingBefore, readChecks, readJudgements } from '../../store/checks';
import { deviceTerm } from '../query/deviceTerm';
import { Calendar, sealedSurvey, type SealedSurvey } from '../query/calendar';
import { queryThing, thingRows } from '../query/query';
import type { ThingRow } from '../query/rows/rowBuilder';

/** A row of the table of changes. */
interface ChangeRow {
  id: string;
  survey: number;
  day: string;
  thing: string;
  subject: string;
  deviceId: number;
  kind: string;
  field: string;
  before: string;
  after: string;
  at: string;
}

export interface Attention {
  kind: 'silent' | 'broken' | 'partial' | 'refused' | 'mismatch' | 'blocked' | 'target' | 'cover' | 'backup';
  words: string;
  remedy: string;
  /** where the proof is */
  href: string;
}

/** Which part of a device it is, where it is not the whole. */
const partWords = ({ component, name }: Record<string, unknown>): string =>
  component === 'system' ? '' : `, ${[component, name].filter(Boolean).map(String).join(' ')},`;

const isUncovered = ({ reasons }: Record<string, unknown>): boolean =>
  (reasons as { kind: string }[]).some(({ kind }) => kind === 'cover');

/** Targets that are not what they should be themselves: what runs them looks well and is not. */
function targetsToLookAt(readiness: readonly Record<string, unknown>[]): Attention[] {
  const byTarget = new Map<string, { row: Record<string, unknown>; findings: Set<string>; count: number }>();
  for (const row of readiness) {
    const findings = row.targetFinding as string[];
    if (findings.length === 0) continue;
    const key = String(row.targetKey);
    const own = byTarget.get(key) ?? { row, findings: new Set<string>(), count: 0 };
    byTarget.set(key, own);
    own.count++;
    for (const one of findings) own.findings.add(one);
  }
  return [...byTarget.values()].map(({ row, findings, count }) => ({
    kind: 'target' as const,
    words: `The target ${String(row.target)} of ${String(row.family)}${partWords(row)} is to be looked at, for ${count} of what has it: ${[...findings].join(', ')}`,
    remedy: 'Set a newer one, or say until when this is meant.',
    href: '/firmware?of=targets',
  }));
}

/** What a device did not tell, and why. */
function partialWords(name: string, missing: readonly Gap[]): { words: string; remedy: string } {
  const parts = missing.map(({ part }) => part).join(', ');
  const { reason = '', code = 'other' } = missing[0] ?? {};
  switch (code) {
    case 'changed':
      return {
        words: `${name}: ${reason}`,
        remedy: `What was known of ${parts} stays, with its age. The adapter must learn the new form: report it with a recorded answer.`,
      };
    case 'silent':
      return {
        words: `${name} stopped answering half-way: ${parts} missing`,
        remedy: 'What was known stays. Ask again with a longer time limit.',
      };
    case 'slow':
      return {
        words: `${name} answered without ${parts}: ${reason}`,
        remedy: 'What was known stays. Let its scope wait longer, or see what keeps its agent busy.',
      };
    case 'other':
      return {
        words: `${name} answered without ${parts}: ${reason}`,
        remedy: `What was known stays, with its age. ${remedyOfGap({ code, reason })}`,
      };
  }
}

/** Nobody looks at copies until they need one: that none could be made is told where everybody looks. */
function copyOfData({ db }: Store): Attention[] {
  if (lastOfKind(db, 'backup')?.state !== 'failed') return [];
  return [
    {
      kind: 'backup',
      words: 'The last copy of the data could not be made',
      remedy: 'Settings, Backups says why; an administrator has it made again there.',
      href: '/settings/backups',
    },
  ];
}

/** Which cover ends or has ended, and for whom. */
function coverEnds(row: Record<string, unknown>): string {
  const devices = row.devices as string[];
  const whose = devices.length === 1 ? String(devices[0]) : `${devices.length} devices`;
  const count = Number(row.uncovered);
  const days = Math.abs(Number(row.daysLeft));
  const when = `${days === 1 ? '1 day' : `${days} days`}`;
  const what = `${String(row.number)}${row.supplier ? ` of ${String(row.supplier)}` : ''}`;
  return `${what} ${row.state === 'ended' ? `ended ${when} ago` : days === 0 ? 'ends today' : `ends in ${when}`}: ${count === 1 ? 'one serial' : `${count} serials`} in ${whose} ${count === 1 ? 'is' : 'are'} without cover${row.state === 'ended' ? '' : ' then'}`;
}

/** How many checks fail at a survey, and which did not at the one compared with. Null before they were judged. */
function checksNow(
  store: Store,
  survey: number,
  against: number,
): { on: number; failing: number; newly: string[] } | null {
  const checks = new Map(readChecks(store.db).flatMap((check) => (check.on ? [[check.key, check.name] as const] : [])));
  const now = readJudgements(store.db, survey).filter(({ key }) => checks.has(key));
  if (now.length === 0) return null;
  const failing = now.filter((judgement) => judgement.failing > 0);
  const before = failingBefore(store.db, against);
  return {
    on: now.length,
    failing: failing.length,
    newly: failing.filter(({ key }) => before.get(key) === 0).map(({ key }) => checks.get(key) ?? key),
  };
}

/** What a survey asked, and how old the answers are that the others gave. */
function coverOf({ db }: Store, { id, scopeName, state, asked }: SealedSurvey, devices: ThingRow[]) {
  const outcomes = latestOutcomes(db, id);
  const isAsked = (row: ThingRow) => outcomes.get(Number(row.id))?.surveyId === id;
  const others = devices
    .filter((row) => !isAsked(row) && row.state !== 'silent')
    .map((row) => String(row.lastAnswered));
  return {
    scopeName,
    isCutShort: state === 'cancelled',
    /** addresses that it was to ask, devices that are known of those it did */
    addresses: asked,
    devices: devices.length - devices.filter((row) => !isAsked(row)).length,
    /** when those it did not ask answered: the longest ago of them, and how many */
    others: others.length,
    oldestAt: others.filter(Boolean).sort()[0] ?? null,
  };
}

function countsOfDevices(store: Store, survey: number, against: number) {
  return queryThing(store, 'devices', { survey, against, where: '', sort: [], page: 1, size: 1 }).counts;
}

/** What is new, changed and silent since the survey it is compared with, and what needs a person. */
export function today(store: Store, survey: number, against: number | null) {
  const { db } = store;
  const calendar = new Calendar(db);
  const before = against ?? calendar.comparable(survey);
  const compares = survey > 0 && before > 0 && before < survey;
  const changes = compares ? thingRows(store, 'changes', survey, before) : [];
  const marks = compares ? countsOfDevices(store, survey, before) : null;
  const devices = survey > 0 ? thingRows(store, 'devices', survey, null) : [];
  const visits = survey > 0 ? thingRows(store, 'visits', survey, null) : [];
  const links = survey > 0 ? thingRows(store, 'links', survey, null) : [];
  const faults = survey > 0 ? thingRows(store, 'faults', survey, null) : [];
  const readiness = survey > 0 ? thingRows(store, 'readiness', survey, null) : [];
  const contracts = survey > 0 ? thingRows(store, 'contracts', survey, null) : [];
  const summary = sealedSurvey(db, survey);
  // where somebody works, what goes wrong is expected
  const worked = devices.filter(({ maintenance }) => maintenance === true);
  const inMaintenance = new Set(worked.map(({ id }) => Number(id)));
  const cared = (deviceId: unknown) => !inMaintenance.has(Number(deviceId));
  const attention: Attention[] = [
    ...copyOfData(store),
    ...silentCaptures(db),
    ...devices
      .filter(({ state, id }) => state === 'silent' && cared(id))
      .map((row) => ({
        kind: 'silent' as const,
        words: `${String(row.name)} does not answer, last on ${String(row.address)}`,
        remedy: 'Look at its uplink and power first; then at its access rules.',
        href: `/estate?sel=device:${row.id}&where=${encodeURIComponent(`name="${String(row.name)}"`)}`,
      })),
    ...faults
      .filter(({ deviceId }) => cared(deviceId))
      .map((row) => ({
        kind: 'broken' as const,
        words: `${String(row.part).startsWith(String(row.device)) ? String(row.part).replaceAll(' / ', ', ') : `${String(row.device)}, ${String(row.part)}`}: ${String(row.message)}`,
        remedy: String(row.action),
        href: `/estate?of=faults&where=${encodeURIComponent(deviceTerm(store, survey, Number(row.deviceId)))}`,
      })),
    ...devices
      .filter(({ state, id }) => state === 'partial' && cared(id))
      .map((row) => ({
        kind: 'partial' as const,
        ...partialWords(String(row.name), row.missing as Gap[]),
        href: `/estate?sel=device:${row.id}&where=${encodeURIComponent(`name="${String(row.name)}"`)}`,
      })),
    ...visits
      .filter(({ outcome }) => outcome === 'refused' || outcome === 'failed')
      .map((row) => ({
        kind: 'refused' as const,
        words: `${String(row.address)} ${String(row.reason)}`,
        remedy: String(row.remedy),
        href: `/survey?past=${survey}&where=${encodeURIComponent(`address=${String(row.address)}`)}`,
      })),
    ...links
      .filter(({ fromId, toId }) => cared(fromId) && cared(toId))
      .flatMap((row) =>
        (row.issues as { kind: string; words: string }[]).map((issue) => ({
          kind: 'mismatch' as const,
          words: issue.words,
          remedy:
            issue.kind === 'oneSided'
              ? 'Switch LLDP on at that end, or look for something between them.'
              : 'Set both ends alike.',
          href: `/map?sel=${encodeURIComponent(`link:${row.id}`)}`,
        })),
      ),
    ...readiness
      .filter(({ verdict, deviceId }) => verdict === 'blocked' && cared(deviceId))
      .map((row) => ({
        kind: 'blocked' as const,
        words: `${String(row.device)}${partWords(row)} cannot go to ${String(row.target)}: ${String(row.why)}`,
        remedy: isUncovered(row)
          ? 'Renew its cover, or give it another target.'
          : 'Extend it, replace it, or give it another target.',
        href: `/firmware?where=${encodeURIComponent(deviceTerm(store, survey, Number(row.deviceId)))}`,
      })),
    ...targetsToLookAt(readiness),
    // what another contract takes over needs nobody
    ...contracts
      .filter(({ uncovered }) => Number(uncovered) > 0)
      .map((row) => ({
        kind: 'cover' as const,
        words: coverEnds(row),
        remedy: 'Renew it, enter what follows it, or take out of it what is meant to go without.',
        href: `/estate?of=contracts&sel=${encodeURIComponent(`contract:${row.id}`)}`,
      })),
  ];
  return {
    survey,
    before,
    /** the survey before it, by whatever scope; 0 for none */
    previous: calendar.before(survey),
    covered: summary && coverOf(store, summary, devices),
    summary: summary?.summary ?? null,
    sealedAt: summary?.sealedAt ?? null,
    startedAt: summary?.startedAt ?? null,
    beforeAt: before > 0 ? calendar.momentOf(before) : null,
    numbers: {
      devices: devices.length,
      answering: devices.filter(({ state }) => state !== 'silent').length,
      partial: devices.filter(({ state }) => state === 'partial').length,
      newDevices: marks?.added ?? 0,
      replaced: marks?.replaced ?? 0,
      changedDevices: marks?.changed ?? 0,
      newlySilent: marks?.silent ?? 0,
      silent: devices.filter(({ state }) => state === 'silent').length,
    },
    attention,
    inMaintenance: worked.length,
    checks: checksNow(store, survey, before),
    changes: (changes as unknown as ChangeRow[]).map((change) => ({
      ...change,
      words: fieldWord(change.thing, change.field),
    })),
  };
}

/** Captures at hosts and mirror ports that were heard once and are not any more. */
const silentCaptures = (db: Db): Attention[] =>
  readCaptureAgents(db)
    .filter((one) => isSilentAgent(one, new Date()))
    .map(({ point, lastHeardAt }) => ({
      kind: 'silent' as const,
      words: `The capture at ${point} has not been heard since ${lastHeardAt.slice(0, 16).replace('T', ' ')} UTC`,
      remedy: 'See there whether bolide capture runs, and what it says.',
      href: '/survey',
    }));
