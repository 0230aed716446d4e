import { statSync } from 'node:fs';
import path from 'node:path';
import { temporaryFolder } from '../e2e/support/program';
import { changesBetween } from '../src/store/base/changes';
import { lastAnswers, latestOutcomes } from '../src/store/base/latestOutcomes';
import { openStore } from '../src/store/base/database';
import { factsAsOf } from '../src/store/base/facts';
import { latestVolatile } from '../src/store/base/volatileValues';
import { writeSurvey } from './manySurveys';

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
  const write = (number: number, isChanged: (n: number) => boolean, wholly = number === 1) =>
    writeSurvey(store, { number, devices, ports, isChanged, wholly });
  const megabytes = () => {
    store.raw.pragma('wal_checkpoint(TRUNCATE)');
    return statSync(path.join(folder, 'bolide.sqlite')).size / 1e6;
  };
  write(1, () => true);
  const first = megabytes();
  write(2, () => false, true);
  const second = megabytes();
  for (let number = 3; number <= surveys; number++) write(number, (n) => n % 100 === number % 100);
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
    devices,
    ports: devices * ports,
    surveys,
    firstSurveyMB: Math.round(first),
    unchangedSurveyAddsPercent: Math.round(((second - first) / first) * 10_000) / 100,
    onePercentChangedAddsPercent: Math.round(((last - second) / (surveys - 2) / second) * 10_000) / 100,
    asOfSecondMs: at(2),
    asOfFortiethMs: at(surveys),
    differenceOfNeighboursMs: milliseconds(() => changesBetween(db, surveys - 1, surveys)),
    differenceOfTenMs: milliseconds(() => changesBetween(db, surveys - 10, surveys)),
  };
  store.close();
  return result;
}
