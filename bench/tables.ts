import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { temporaryFolder } from '../e2e/support/program';
import { things, type ThingName } from '../src/core/things/things';
import { findAnything } from '../src/server/query/findAnything';
import { judgeCheck } from '../src/server/checks/judgements';
import { deviceDossier } from '../src/server/estate/dossier';
import { queryThing, type ThingQuery } from '../src/server/query/query';
import { tablesOf } from '../src/server/query/tables/estateTables';
import { exportParts } from '../src/server/query/thread/answers';
import { readChecks } from '../src/store/checks';
import { openStore } from '../src/store/base/database';
import { writeSurvey } from './manySurveys';

const devices = 5000;
const ports = 50;
const endpoints = 60;
const surveys = 40;
const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;

/** Writes 5,000 devices with 250,000 ports, 105,000 modules and 300,000 endpoints, forty surveys of which each changes one in a hundred. */
export function writeLargeEstate(folder: string): void {
  const store = openStore(folder);
  for (let number = 1; number <= surveys; number++)
    writeSurvey(store, {
      number,
      devices,
      ports,
      endpoints,
      whole: true,
      wholly: number === 1,
      isChanged: (n) => number === 1 || n % 100 === number % 100,
    });
  store.close();
}

/** A folder that is named is written once and stays, so that several benches share it. */
export function keptLargeEstate(folder: string): string {
  if (!existsSync(folder)) {
    mkdirSync(folder, { recursive: true });
    writeLargeEstate(folder);
  }
  return folder;
}

/** What the answers of tables cost, without the way to the browser: at the newest survey, at one of long ago, and between two. */
export async function benchTables(given?: string): Promise<Record<string, unknown>> {
  const folder = given ? keptLargeEstate(given) : temporaryFolder();
  if (!given) writeLargeEstate(folder);
  const store = openStore(folder);
  const once = (work: () => unknown) => {
    const started = performance.now();
    work();
    return Math.round((performance.now() - started) * 10) / 10;
  };
  const ask = (thing: ThingName, more: Partial<ThingQuery>) =>
    queryThing(store, thing, { survey: surveys, against: null, where: '', sort: [], page: 1, size: 100, ...more });
  const typed = (thing: ThingName, text: string) =>
    median(text.split('').map((_, at) => once(() => ask(thing, { where: text.slice(0, at + 1) }))));
  const result: Record<string, unknown> = { devices, ports: devices * ports, endpoints: devices * endpoints, surveys };
  result.readAheadSeconds = once(() => [...tablesOf(store).readAhead(surveys)]) / 1000;
  once(() => ask('endpoints', {}));
  result.openMs = Object.fromEntries(
    (
      [
        'devices',
        'ports',
        'endpoints',
        'modules',
        'links',
        'services',
        'software',
        'vlans',
        'addresses',
        'networks',
        'faults',
        'ledger',
        'changes',
      ] as const
    ).map((thing) => [
      thing,
      {
        newest: once(() => ask(thing, {})),
        firstLookBack: once(() => ask(thing, { survey: 20 })),
        firstAgainst: once(() => ask(thing, { against: 39 })),
      },
    ]),
  );
  result.rows = Object.fromEntries(
    (['modules', 'links', 'services', 'software', 'addresses', 'networks', 'ledger'] as const).map((thing) => [
      thing,
      ask(thing, {}).total,
    ]),
  );
  result.firstKeystrokeMs = Object.fromEntries(
    (['ports', 'endpoints'] as const).map((thing) => [thing, once(() => ask(thing, { where: 's' }))]),
  );
  result.keystrokeMs = Object.fromEntries(
    (['devices', 'ports', 'endpoints'] as const).map((thing) => [thing, typed(thing, 's41-sw-41')]),
  );
  result.termMs = {
    ports: once(() => ask('ports', { where: 'speed>=1G oper=up alias:desk', sort: ['-mac'] })),
    again: once(() => ask('ports', { where: 'speed>=1G oper=up alias:desk', sort: ['-mac'] })),
    sortByAlias: once(() => ask('ports', { sort: ['alias'] })),
    relation: once(() => ask('devices', { where: 'port.speed<1G' })),
  };
  result.groupMs = {
    ports: once(() => ask('ports', { group: ['kind', 'vlan', 'oper'] })),
    endpoints: once(() => ask('endpoints', { group: ['vlan', 'via', 'maker'] })),
    devices: once(() => ask('devices', { group: ['site', 'family', 'model'] })),
  };
  result.dossierMs = once(() => deviceDossier(store, '4321', surveys));
  result.dossierAgainMs = once(() => deviceDossier(store, '1234', surveys));
  result.findMs = Object.fromEntries(
    ['s', 's41-sw-41', 's14-sw-4321', '06-9A-01-02', '10.129.4.17', 's41-ws-4321', 'desk', 'nowhere at all'].map(
      (text) => [text, median([1, 2, 3].map(() => once(() => findAnything(store, surveys, text, 10))))],
    ),
  );
  result.judgeMs = Object.fromEntries(
    [surveys, surveys - 1].map((survey) => {
      const each = readChecks(store.db)
        .filter(({ on }) => on)
        .map((check) => ({ key: check.key, ms: once(() => judgeCheck(store, check, survey)) }))
        .sort((x, y) => y.ms - x.ms);
      return [
        survey === surveys ? 'newest' : 'oneBefore',
        {
          all: Math.round(each.reduce((sum, { ms }) => sum + ms, 0)),
          longest: Object.fromEntries(each.slice(0, 5).map(({ key, ms }) => [key, ms])),
        },
      ];
    }),
  );
  const before = process.memoryUsage();
  const started = performance.now();
  let octets = 0;
  let most = 0;
  for await (const part of exportParts(store, {
    thing: 'ports',
    wanted: { survey: surveys, against: null, where: '', sort: [] },
    format: 'csv',
    columns: things.ports.fields.map(({ name }) => name),
  })) {
    octets += part.length;
    most = Math.max(most, process.memoryUsage().rss);
  }
  result.export = {
    seconds: Math.round(performance.now() - started) / 1000,
    megabytes: Math.round(octets / 1e6),
    memoryGrowsMB: Math.round((most - before.rss) / 1e6),
  };
  result.memoryMB = Math.round(before.rss / 1e6);
  store.close();
  if (!given) rmSync(folder, { recursive: true, force: true });
  return result;
}
