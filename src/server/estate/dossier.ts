import { talkOf } from './deviceTalk';
import { fieldWord } from '../../core/things/changeWords';
import { changedFields } from '../../core/estate/difference';
import type { DeviceFacts, ModuleFacts } from '../../core/estate/facts';
import { ownValueText, type OwnValue } from '../../core/own/ownField';
import type { ThingName } from '../../core/things/things';
import type { LinkFacts } from '../../core/topology/links';
import type { Store } from '../../store/base/database';
import { latestSealed } from '../../store/base/sealedSurveys';
import { factHistory } from '../../store/base/facts';
import { readOwnFields } from '../../store/ownFields';
import { editVersion } from '../../store/edits/log';
import { ownHistory } from '../../store/ownValues';
import { volatileHistory } from '../../store/base/volatileValues';
import { readSignatures } from '../../store/programFiles';
import { deviceCover } from '../cover/deviceCover';
import { deviceTerm } from '../query/deviceTerm';
import { deviceDependants } from './dependants';
import { Calendar } from '../query/calendar';
import { rowsOfDevice, thingRow, thingRows, type MarkedRow } from '../query/query';

export interface HistoryEntry {
  survey: number;
  at: string;
  words: string;
  field: string;
  before: unknown;
  after: unknown;
}

/** Everything about one device as of a survey. Null if it was not known then. */
export function deviceDossier(store: Store, deviceId: string, survey: number) {
  const version = editVersion(store.db);
  const device = thingRow(store, 'devices', survey, null, deviceId);
  if (!device) return null;
  const own = (row: MarkedRow) => String(row.deviceId) === deviceId;
  const parts = (name: ThingName) => rowsOfDevice(store, name, survey, Number(deviceId));
  const allLinks = thingRows(store, 'links', survey, null);
  const allMachines = thingRows(store, 'machines', survey, null);
  const signature = readSignatures(store.folder).find(({ id }) => id === signatureOf(store, Number(deviceId)));
  const modules = parts('modules');
  return {
    /** the last edit that is seen in it */
    version,
    device,
    /** a filter of what belongs to it */
    here: deviceTerm(store, survey, Number(deviceId)),
    modules,
    cover: deviceCover(store, survey, device, modules),
    ports: parts('ports'),
    addresses: parts('addresses'),
    links: allLinks.filter(({ fromId, toId }) => fromId === Number(deviceId) || toId === Number(deviceId)),
    readiness: parts('readiness'),
    faults: parts('faults'),
    services: parts('services'),
    ...talkOf(store, survey, Number(deviceId)),
    machines: allMachines.filter((row) => own(row) || row.hostId === Number(deviceId)),
    dependants: deviceDependants(store, survey, Number(deviceId), allLinks as unknown as LinkFacts[], allMachines),
    peers: parts('peers'),
    virtualRouters: parts('virtualRouters'),
    wlans: parts('wlans'),
    software: parts('software'),
    ...lastReadings(store, Number(deviceId), survey),
    readings: readingLines(store, Number(deviceId), survey),
    faceplate: signature?.faceplate ?? null,
    history: historyOf(store, Number(deviceId), survey),
  };
}

function signatureOf(store: Store, deviceId: number): string {
  return factHistory<DeviceFacts>(store.db, 'device', deviceId).at(-1)?.content.signature ?? '';
}

/** Fill levels, sensor values and counts of routes as last read up to a survey. */
function lastReadings(
  store: Store,
  deviceId: number,
  survey: number,
): { storage: unknown[]; sensors: unknown[]; routeCounts: Record<string, number> } {
  const last = volatileHistory(store.db, deviceId, survey, 1)[0]?.values;
  return { storage: last?.storage ?? [], sensors: last?.sensors ?? [], routeCounts: last?.routeCounts ?? {} };
}

/** One value over the surveys that read it, oldest first. */
export interface ReadingLine {
  name: string;
  unit: string;
  above: number | null;
  below: number | null;
  points: { at: string; value: number }[];
}

const mostPoints = 400;

/** The readings of a device over time: those its signature asks for, and its sensors. */
function readingLines(store: Store, deviceId: number, survey: number): ReadingLine[] {
  const calendar = new Calendar(store.db);
  const lines = new Map<string, ReadingLine>();
  for (const {
    surveyId,
    values: { readings = [], sensors = [] },
  } of volatileHistory(store.db, deviceId, survey, mostPoints)) {
    const measured = [
      ...readings,
      ...sensors.flatMap(({ name, unit, value }) =>
        value === null ? [] : [{ name: name.split(' / ').slice(1).join(' / ') || name, unit, value }],
      ),
    ];
    for (const { name, unit, value, ...bounds } of measured) {
      const { above = null, below = null } = bounds as { above?: number; below?: number };
      const line = lines.get(name) ?? { name, unit, above, below, points: [] };
      line.points.unshift({ at: calendar.momentOf(surveyId), value });
      lines.set(name, line);
    }
  }
  return [...lines.values()];
}

/** What happened to a device, newest first, in words. */
function historyOf(store: Store, deviceId: number, survey: number): HistoryEntry[] {
  const calendar = new Calendar(store.db);
  const entries: HistoryEntry[] = [];
  const add = (at: number, words: string, field = '', before: unknown = null, after: unknown = null) =>
    entries.push({ survey: at, at: calendar.momentOf(at), words, field, before, after });
  const versions = factHistory<DeviceFacts>(store.db, 'device', deviceId).filter(
    ({ fromSurvey }) => fromSurvey <= survey,
  );
  versions.forEach(({ content, fromSurvey }, at) => {
    const previous = versions[at - 1];
    if (!previous) return add(fromSurvey, 'first seen');
    for (const { field, before, after } of changedFields({ ...previous.content }, { ...content })) {
      if (field === 'units' || field === 'engineId') continue;
      add(
        fromSurvey,
        field === 'serial' ? 'chassis replaced' : `${fieldWord('device', field)} changed`,
        field,
        before,
        after,
      );
    }
  });
  const started = versions[0]?.fromSurvey ?? 0;
  for (const { content, fromSurvey, untilSurvey } of factHistory<ModuleFacts>(store.db, 'module', deviceId)) {
    const what = `${content.name}${content.serial ? ` ${content.serial}` : ''}`;
    if (fromSurvey > started && fromSurvey <= survey && !content.empty && content.class !== 'chassis' && content.serial)
      add(fromSurvey, `module ${what} seen`);
    if (untilSurvey !== null && untilSurvey <= survey && content.serial && content.class !== 'chassis')
      add(untilSurvey, `module ${what} changed or gone`);
  }
  const labels = new Map(
    readOwnFields(store.db).flatMap(({ thing, name, label }) => (thing === 'devices' ? [[name, label] as const] : [])),
  );
  const latest = latestSealed(store.db);
  // what people wrote after the survey that is looked at is not of that time
  if (survey >= latest)
    for (const { at, who, field, before, after } of ownHistory(store.db, 'devices', String(deviceId)))
      entries.push({
        survey: latest,
        at,
        words: `${labels.get(field) ?? field} written by ${who}`,
        field,
        before: ownValueText(before as OwnValue),
        after: ownValueText(after as OwnValue),
      });
  return entries.sort((x, y) => y.survey - x.survey || (x.at < y.at ? 1 : x.at > y.at ? -1 : 0));
}
