// What the working tree touches: changed files, and the end-to-end suites they may break.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { home } from './install.mjs';

const git = (...args) =>
  spawnSync('git', args, { cwd: home, encoding: 'utf8' })
    .stdout.split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

/** Files that differ from the last commit, and new ones that git does not ignore. */
export function touchedFiles() {
  const all = [...git('diff', '--name-only', 'HEAD'), ...git('ls-files', '--others', '--exclude-standard')];
  return [...new Set(all)].filter((file) => existsSync(path.join(home, file)));
}

/** A suite says in a line of its own which places of the program it is about: `// covers: src/ui/floor src/server/floor`. */
function placesOf(suite) {
  const [, places = ''] = /^\/\/ covers: (.*)$/m.exec(readFileSync(path.join(home, suite), 'utf8')) ?? [];
  return places.split(/\s+/).filter(Boolean);
}

/** The suites that are about a changed file; all of them where a changed file of the program is about none alone. */
export function touchedSuites(files) {
  const suites = readdirSync(path.join(home, 'e2e'))
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => `e2e/${name}`);
  const covered = new Map(suites.map((suite) => [suite, placesOf(suite)]));
  const touched = new Set();
  for (const file of files) {
    // a suite, or a part of one that lies in the folder of its name
    const own = suites.find((suite) => file === suite || file.startsWith(`${suite.slice(0, -'.test.ts'.length)}/`));
    if (own) touched.add(own);
    const isProgram =
      /^(src|bin|signatures|catalogue|schemes|services|e2e\/support)\//.test(file) && !/\.test\.tsx?$/.test(file);
    if (!isProgram) continue;
    const about = suites.filter((suite) => covered.get(suite)?.some((place) => file.startsWith(place)));
    for (const suite of about.length > 0 ? about : suites) touched.add(suite);
  }
  return [...touched];
}
