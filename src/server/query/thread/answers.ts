import { ownTopic } from '../../../core/own/ownField';
import type { Steps } from '../../../core/steps';
import type { ThingName } from '../../../core/things/things';
import { exportedColumns } from '../../../core/things/exportedColumns';
import type { ThingField } from '../../../core/things/thing';
import { sheetParts, tableParts, type TableFormat } from '../../../deliver/table';
import type { Store } from '../../../store/base/database';
import { things } from '../../../core/things/things';
import { readGroups } from '../../../store/groups';
import { plannedFile } from '../../imports/domains';
import { sitePreview } from '../../sites/sitePreview';
import { hangingAt } from '../../ports/hanging';
import { findPortNamed, outletRows } from '../../floor/outletRows';
import { planStanding } from '../../floor/planRows';
import { judgeCheck } from '../../checks/judgements';
import { plannedEdit } from '../../own/planned';
import { scriptRow, flatColumns } from '../scriptFields';
import { deviceDossier } from '../../estate/dossier';
import { findPort } from '../../ports/findPort';
import { mapData } from '../../map/mapData';
import { mapPorts } from '../../map/mapPorts';
import { fabricEndpoints, fabrics } from '../../map/fabrics';
import { hostLadderOf, hostList } from '../../map/hosts';
import { traceBetween } from '../../map/trace';
import { portReport } from '../../ports/portReport';
import { watchedNow } from '../../ports/watched';
import { thingDossier } from '../../estate/thingDossier';
import { eachRow, findRows, queryThing, thingRow, type RowsWanted } from '../query';
import { today } from '../../estate/today';
import { tablesOf } from '../tables/estateTables';
import { findAnything } from '../findAnything';
import { rehearsalOf, stoppersNamed } from '../../dependencies/rehearsal';
import { ruleTrial, servicesByRule } from '../../dependencies/ruleTrial';
import { applicationVersions } from '../../dependencies/applicationVersions';
import { circlesTold, roundOf, seedsFor } from '../../dependencies/applications';
import { matrixOf } from '../../dependencies/matrix';
import { talkDays } from '../../dependencies/talkDays';
import { serviceGroups } from '../../dependencies/serviceGroups';
import { draftDifference } from '../../firmware/draftDifference';
import { laddersAt } from '../../firmware/ladders';
import { readinessOutlook } from '../../firmware/outlook';
import { targetStanding } from '../../firmware/targetStanding';
import { upgradeLook } from '../../firmware/upgradeLook';
import { waveChecked, wavesAt } from '../../firmware/waves';
import { restsOnTold } from '../../dependencies/restsOn';
import { singleStopRows } from '../../dependencies/singleStopRows';
import { needMeant, saidNeedsTold } from '../../dependencies/saidNeeds';
import { strataAt } from '../../dependencies/strata';
import { unknownNames, worksTouching } from '../../dependencies/touchingWorks';
import { suspicionOf } from '../../dependencies/suspicion';

/** Questions about the whole estate: what they cost grows with it, so that the process that talks to browsers leaves them to a thread. */
export const answers = {
  mapData,
  mapPorts,
  hostList,
  hostLadderOf,
  fabrics,
  fabricEndpoints,
  traceBetween,
  query: queryThing,
  dossier: deviceDossier,
  row: thingRow,
  thingDossier,
  today,
  find: findAnything,
  findPort,
  portReport,
  hangingAt,
  outletRows,
  findPortNamed,
  planStanding,
  watchedNow,
  judgeCheck,
  plannedEdit,
  plannedFile,
  sitePreview,
  rehearsalOf,
  stoppersNamed,
  restsOnTold,
  laddersAt,
  draftDifference,
  targetStanding,
  readinessOutlook,
  wavesAt,
  waveChecked,
  upgradeLook,
  ruleTrial,
  servicesByRule,
  serviceGroups,
  matrixOf,
  talkDays,
  roundOf,
  circlesTold,
  seedsFor,
  applicationVersions,
  strataAt,
  saidNeedsTold,
  needMeant,
  suspicionOf,
  singleStopRows,
  worksTouching,
  unknownNames,
  groupMembers: (store: Store, survey: number) =>
    readGroups(store.db).map((group) => ({ id: group.id, ...tablesOf(store).membersTold(group, survey) })),
};
export type Answers = typeof answers;
export type Question = keyof Answers;
/** What is answered; what is worked out in steps is answered when all are done. */
export type Answered<Name extends Question> =
  ReturnType<Answers[Name]> extends Steps<infer Value> ? Value : ReturnType<Answers[Name]>;

/** Things that follow from talk. */
export const ofTalk: ReadonlySet<ThingName> = new Set(['conversations', 'circles', 'applications']);
const questionsOfTalk: ReadonlySet<Question> = new Set([
  'dossier',
  'rehearsalOf',
  'stoppersNamed',
  'restsOnTold',
  'serviceGroups',
  'matrixOf',
  'talkDays',
  'roundOf',
  'strataAt',
  'saidNeedsTold',
  'needMeant',
  'circlesTold',
  'seedsFor',
  'suspicionOf',
  'singleStopRows',
  'worksTouching',
  'unknownNames',
  'wavesAt',
  'waveChecked',
  'upgradeLook',
]);

/** Whether a question can be answered only once talk lies in memory. */
export const asksOfTalk = (question: Question, rest: readonly unknown[]): boolean =>
  questionsOfTalk.has(question) ||
  (ofTalk.has(rest[0] as ThingName) && ['query', 'row', 'thingDossier'].includes(question));

/** At which survey a question of talk is asked. */
export function momentOfTalk([first, second]: readonly unknown[]): number | null {
  if (typeof first === 'number') return first;
  if (typeof second === 'number') return second;
  return (second as { survey?: number } | undefined)?.survey ?? null;
}

/** At which survey a question asks who belongs together by talk; null where it does not. */
export function asksOfCircles(question: Question, rest: readonly unknown[]): number | null {
  const [first, second] = rest;
  if (question === 'circlesTold' || (question === 'matrixOf' && second === 'circle')) return Number(first);
  if (first !== 'circles') return null;
  if (question === 'query') return (second as { survey: number }).survey;
  return question === 'row' || question === 'thingDossier' ? Number(second) : null;
}
type Rest<List extends unknown[]> = List extends [unknown, ...infer Tail] ? Tail : never;
export type Arguments<Name extends Question> = Rest<Parameters<Answers[Name]>>;

export interface Export {
  thing: ThingName;
  wanted: RowsWanted;
  format: TableFormat;
  columns: string[] | undefined;
  /** headed as the table shows it, for people; without it as scripts rely on it */
  asShown?: boolean;
}

/** A table as a file, in parts as they are made. @throws FilterError, SortError before the first part */
export function exportParts(
  store: Store,
  { thing, wanted, format, columns, asShown = false }: Export,
): AsyncGenerator<string | Buffer> {
  const rows = findRows(store, thing, wanted);
  const marked = wanted.against !== null;
  const fields = tablesOf(store).fields(thing);
  if (asShown && (format === 'csv' || format === 'xlsx')) {
    const shown = exportedColumns(
      marked ? [changeField, ...fields] : fields,
      columns ?? fields.filter((field) => field.shown).map(({ name }) => name),
    );
    const all = marked ? [...exportedColumns([changeField], ['change']), ...shown] : shown;
    const heads = all.map(({ head }) => head);
    return sheetParts(format, heads, linesAsShown(rows, all), things[thing].title, true);
  }
  // what people wrote goes with what equipment told
  const wantedColumns = columns ?? [
    ...things[thing].script,
    ...fields.filter(({ topic }) => topic === ownTopic).map(({ name }) => name),
  ];
  const known = new Set(fields.map(({ name }) => name));
  const each =
    columns && !marked && columns.every((column) => known.has(column) && !rows.table.coarse?.has(column))
      ? () => rowsOfColumns(rows, columns)
      : () => rowsOfContract(rows, thing, wantedColumns);
  return tableParts(
    format,
    { [Symbol.iterator]: each },
    things[thing].title,
    marked ? null : flatColumns(thing, wantedColumns),
  );
}

const changeField: ThingField = { name: 'change', kind: 'text', label: 'Change', topic: '', width: 0 };

function* linesAsShown(
  rows: ReturnType<typeof findRows>,
  columns: ReturnType<typeof exportedColumns>,
): Generator<unknown[]> {
  for (const row of eachRow(rows))
    yield columns.map(({ field, value }) => value((row as unknown as Record<string, unknown>)[field]));
}

function* rowsOfContract(
  rows: ReturnType<typeof findRows>,
  thing: ThingName,
  columns: string[],
): Generator<Record<string, unknown>> {
  for (const row of eachRow(rows)) yield scriptRow(thing, row, columns);
}

/** Where a table has all that is wanted in its columns, nothing needs to be read. */
function* rowsOfColumns(
  { table, found }: ReturnType<typeof findRows>,
  fields: string[],
): Generator<Record<string, unknown>> {
  const columns = fields.map((field) => ({ field, ...table.column(field) }));
  for (const at of found) {
    const row: Record<string, unknown> = {};
    for (const { field, dictionary, codes } of columns) row[field] = dictionary.values[codes[at] ?? 0] ?? null;
    yield row;
  }
}
