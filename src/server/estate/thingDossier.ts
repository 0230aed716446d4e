import { factKinds } from '../../core/estate/factKinds';
import { things, type ThingName } from '../../core/things/things';
import { versionHistory, type VersionEvent } from '../../core/things/versionHistory';
import { differencesOf } from '../../core/things/comparison';
import { changeValue, fieldWord } from '../../core/things/changeWords';
import { term } from '../../core/things/near';
import { rowReader } from '../../core/things/rowReader';
import { ownValueText, type OwnedThing, type OwnValue } from '../../core/own/ownField';
import { contractDifference } from '../../core/cover/planContracts';
import type { Contract } from '../../core/cover/contract';
import { editHistory, editVersion } from '../../store/edits/log';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import { factHistory } from '../../store/base/facts';
import { readOwnFields } from '../../store/ownFields';
import { ownHistory } from '../../store/ownValues';
import type { FactKind } from '../../store/base/schema';
import { failingAt, type FailingCheck, type Judged } from '../checks/failingAt';
import { tablesOf } from '../query/tables/estateTables';
import type { MarkedRow } from '../query/tables/thingTable';
import { deviceTerm } from '../query/deviceTerm';
import { Calendar } from '../query/calendar';
import { thingRow } from '../query/query';

/** Everything about one thing that is no device: what it says, what is near it, what happened to it. */
export interface ThingDossier {
  /** the last edit that is seen in it */
  version: number;
  row: MarkedRow;
  /** tables that say more, each with how many rows it has */
  near: { words: string; thing: ThingName; where: string; total: number }[];
  history: { at: string; words: string; before: string; after: string }[];
  /** checks that fail here */
  failing: FailingCheck[];
}

/** How the versions of a thing are kept, by its word: nothing of those whose history is told otherwise. */
const versioned = new Map(
  factKinds.flatMap(({ kind, changes, hasHistory }) => {
    const word = changes?.word ?? kind;
    return hasHistory ? [[word, { kind: kind as FactKind, word }] as const] : [];
  }),
);

export function thingDossier(store: Store, name: ThingName, survey: number, id: string): ThingDossier | null {
  const version = editVersion(store.db);
  const row = thingRow(store, name, survey, null, id);
  if (!row) return null;
  return {
    version,
    row,
    near: nearOf(store, name, survey, row),
    history: historyOf(store, name, survey, id),
    failing: failingAt(store, name, survey, row, liesAt(name, row)),
  };
}

/** What is judged together with a thing: a port is as well as its link, and as what is plugged in. */
function liesAt(name: ThingName, row: MarkedRow): Judged[] {
  if (name !== 'ports') return [];
  const end = (device: string, port: string) => `(${term(`${device}.id`, row.deviceId)} ${term(port, row.name)})`;
  return [
    { thing: 'links', where: `${end('from', 'fromPort')} or ${end('to', 'toPort')}` },
    { thing: 'endpoints', where: end('device', 'port') },
  ];
}

/** A filter of what belongs to the device of a row. */
const hereOf = (store: Store, survey: number, { deviceId }: MarkedRow): string | undefined =>
  Number(deviceId) > 0 ? deviceTerm(store, survey, Number(deviceId)) : undefined;

function nearOf(store: Store, name: ThingName, survey: number, row: MarkedRow): ThingDossier['near'] {
  const tables = tablesOf(store);
  const questions = (things[name].near?.(rowReader(row, hereOf(store, survey, row))) ?? []) as [
    words: string,
    thing: ThingName,
    where: string,
  ][];
  return questions.flatMap(([words, thing, where]) => {
    let total = 0;
    for (const fit of tables.select(thing, survey, tables.table(thing, survey, null), where)) total += fit;
    return total > 0 ? [{ words, thing, where, total }] : [];
  });
}

function historyOf(store: Store, name: ThingName, survey: number, id: string): ThingDossier['history'] {
  const calendar = new Calendar(store.db);
  const told = name === 'endpoints' ? endpointHistory(store, survey, id) : partHistory(store, name, survey, id);
  const events = told.map(({ survey: at, ...event }) => ({ at: calendar.momentOf(at), ...event }));
  if (name === 'contracts') return contractEvents(store, Number(id));
  return [...ownEvents(store, name, survey, id), ...events];
}

type Told = { survey: number; words: string; before: string; after: string };

function partHistory(store: Store, name: ThingName, survey: number, id: string): Told[] {
  const kept = versioned.get(things[name].changeWord ?? '');
  if (!kept) return [];
  const [, deviceId = '0', key = id] = name === 'links' ? [] : (/^(\d+):(.*)$/s.exec(id) ?? []);
  const versions = factHistory<object>(store.db, kept.kind, Number(deviceId)).filter((version) => version.key === key);
  return versionHistory(versions, survey, differencesOf(kept.word)).map((event) => wordsOf(event, kept.word));
}

const eventWords = { seen: 'first seen', gone: 'gone', again: 'seen again', changed: '' } as const;

function wordsOf({ survey, kind, field, before, after }: VersionEvent, word: string): Told {
  return {
    survey,
    words: kind === 'changed' ? `${fieldWord(word, field)} changed` : eventWords[kind],
    before: changeValue(word, field, before),
    after: changeValue(word, field, after),
  };
}

/** An endpoint by where it was: a place is a device and a port together. */
function endpointHistory(store: Store, survey: number, mac: string): Told[] {
  const names = tablesOf(store).table('devices', survey, null);
  const nameOf = (deviceId: number | null) =>
    deviceId === null ? '' : String(names.rows([names.rowOf(String(deviceId))])[0]?.name ?? `device ${deviceId}`);
  const versions = tablesOf(store)
    .endpointVersions(mac, survey)
    .map(({ content: { deviceId, port, vlan, via, addresses }, ...rest }) => ({
      ...rest,
      content: {
        place: deviceId === null ? 'place not known' : `${nameOf(deviceId)} ${port ?? ''}`.trim(),
        vlan,
        via,
        addresses,
      },
    }));
  return versionHistory(versions, survey).map((event) =>
    event.field === 'place'
      ? { survey: event.survey, words: 'moved', before: String(event.before), after: String(event.after) }
      : wordsOf(event, 'endpoint'),
  );
}

/** What people wrote at a port or an endpoint, when the newest survey is looked at. */
function ownEvents(store: Store, name: ThingName, survey: number, id: string): ThingDossier['history'] {
  if ((name !== 'ports' && name !== 'endpoints') || survey < latestSealed(store.db)) return [];
  const thing: OwnedThing = name;
  const labels = new Map(
    readOwnFields(store.db)
      .filter((field) => field.thing === thing)
      .map((field) => [field.name, field.label]),
  );
  return ownHistory(store.db, thing, id).map(({ at, who, field, before, after }) => ({
    at,
    words: `${labels.get(field) ?? field} written by ${who}`,
    before: ownValueText(before as OwnValue),
    after: ownValueText(after as OwnValue),
  }));
}

/** What people made of a contract. */
function contractEvents(store: Store, id: number): ThingDossier['history'] {
  return editHistory(store.db, 'contracts', String(id)).flatMap(({ at, who, ...change }) => {
    const [before, after] = [change.before as Contract | null, change.after as Contract | null];
    if (!before || !after) return [{ at, words: `${before ? 'deleted' : 'entered'} by ${who}`, before: '', after: '' }];
    return contractDifference({ before, after }).map(({ field, ...values }) => ({
      at,
      words: `${field} written by ${who}`,
      ...values,
    }));
  });
}
