import { statSync } from 'node:fs';
import path from 'node:path';
import { temporaryFolder } from '../e2e/support/program';
import { harvestParts } from '../src/core/estate/harvest';
import { changesBetween, lastAnswers, latestOutcomes } from '../src/store/changes';
import { commitReport, Identities } from '../src/store/commitReport';
import { openStore, type Store } from '../src/store/database';
import { factsAsOf } from '../src/store/facts';
import { survey } from '../src/store/schema';
import { forgetOrder, visitNotes } from '../src/store/visits';
import { latestVolatile, writeVolatile } from '../src/store/volatileValues';
import { switchReport } from './generate';

/**
 * What many surveys cost: 5,000 devices with 50 ports each, forty surveys of which each changes one device in a hundred, written through the store. What a
 * page needs is read as of the second and as of the fortieth; the file is weighed after a survey that found nothing new.
 */
const devices = 5000;
const ports = 50;
const surveys = 40;
const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;
const milliseconds = (work: () => void, runs = 9) => {
  const times: number[] = [];
  for (let run = 0; run < runs; run++) {
    const started = performance.now();
    work();
    times.push(performance.now() - started);
  }
  return Math.round(median(times) * 10) / 10;
};

export function benchHistory(): Record<string, unknown> {
  const folder = temporaryFolder();
  const store = openStore(folder);
  const megabytes = () => {
    store.raw.pragma('wal_checkpoint(TRUNCATE)');
    return statSync(path.join(folder, 'bolide.sqlite')).size / 1e6;
  };
  writeSurvey(store, 1, () => true);
  const first = megabytes();
  writeSurvey(store, 2, () => false, true);
  const second = megabytes();
  for (let number = 3; number <= surveys; number++) writeSurvey(store, number, (n) => n % 100 === number % 100);
  const last = megabytes();
  const some = Array.from({ length: 50 }, (_, at) => 1 + at * 97);
  const { db } = store;
  const at = (number: number) => ({
    fiveThousandDevices: milliseconds(() => factsAsOf(db, 'device', number)),
    portsOfFiftyDevices: milliseconds(() => factsAsOf(db, 'port', number, some)),
    states: milliseconds(() => latestOutcomes(db, number)),
    lastAnswers: milliseconds(() => lastAnswers(db, number)),
    volatile: milliseconds(() => latestVolatile(db, number)),
  });
  const result = {
    devices, ports: devices * ports, surveys,
    firstSurveyMB: Math.round(first), unchangedSurveyAddsPercent: Math.round(((second - first) / first) * 10_000) / 100, onePercentChangedAddsPercent: Math.round(((last - second) / (surveys - 2) / second) * 10_000) / 100,
    asOfSecondMs: at(2), asOfFortiethMs: at(surveys),
    differenceOfNeighboursMs: milliseconds(() => changesBetween(db, surveys - 1, surveys)), differenceOfTenMs: milliseconds(() => changesBetween(db, surveys - 10, surveys)),
  };
  store.close();
  return result;
}

/** @param wholly every device is committed, as a survey does; else those that changed, and for the others what is written of an unchanged one */
function writeSurvey(store: Store, number: number, isChanged: (n: number) => boolean, wholly = number === 1): void {
  const { db } = store;
  const at = new Date(Date.UTC(2026, 0, 5 + number * 7, 6)).toISOString();
  const { id } = db.insert(survey).values({ scopeName: 'bench', scope: {}, state: 'running', startedAt: at, asked: devices }).returning({ id: survey.id }).get();
  const identities = new Identities(db, id);
  forgetOrder(db, id);
  const note = visitNotes(db, id);
  const parts = new Set(harvestParts);
  store.raw.transaction(() => {
    for (let n = 0; n < devices; n++) {
      const report = switchReport(n, ports, number > 1 && isChanged(n) ? number : 0, number * 7 * 86_400);
      let deviceId = n + 1;
      if (wholly || isChanged(n)) ({ deviceId } = commitReport(db, id, identities, { kind: 'snmp', report, covered: parts, asked: parts }, () => false));
      else writeVolatile(db, id, deviceId, report.volatile);
      note(report.device.address, n + 1, { state: 'done', outcome: 'answered', deviceId, seconds: 300, credential: 'v3', phases: { probe: 0.004, collect: 0.211, interpret: 0.001, commit: 0.003, interfaces: 0.041, modules: 0.03, bridge: 0.08 }, missing: [] });
    }
    store.raw.prepare("update survey set state = 'sealed', sealed_at = ?, summary = ? where id = ?").run(at, JSON.stringify({ survey: id, seconds: 1, addresses: { asked: devices, answered: devices, silent: 0 }, devices: {}, phases: {}, failures: [] }), id);
  })();
}
