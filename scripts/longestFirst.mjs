// In which order suites run: the long ones first, so that no lane is left alone with one of them at the end. On a fresh machine nobody knows how long they take; their size tells.
import { existsSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';

/** A suite and its parts, which lie in the folder of its name. */
function octetsOf(file) {
  const folder = file.replace(/\.test\.tsx?$/, '');
  const parts = existsSync(folder) ? readdirSync(folder).map((name) => path.join(folder, name)) : [];
  return [file, ...parts].reduce((sum, one) => sum + statSync(one).size, 0);
}

export default class LongestFirst {
  sort(tests) {
    const weights = new Map(tests.map((test) => [test, octetsOf(test.path)]));
    return [...tests].sort((x, y) => weights.get(y) - weights.get(x));
  }
  allFailedTests() {
    return [];
  }
  cacheResults() {}
  shard(tests) {
    return tests;
  }
}
