// Builds the command-line program and the application when a source is newer than the last build.
import { existsSync, readdirSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { home, run, runBeside } from './install.mjs';

const stamp = path.join(home, 'dist/built');

function newest(place) {
  if (!existsSync(place)) return 0;
  const stat = statSync(place);
  if (!stat.isDirectory()) return stat.mtimeMs;
  return Math.max(
    0,
    ...readdirSync(place)
      .filter((name) => !/\.test\.tsx?$/.test(name))
      .map((name) => newest(path.join(place, name))),
  );
}

export function isBuilt() {
  if (!existsSync(stamp) || !existsSync(path.join(home, '.next/BUILD_ID'))) return false;
  const sources = Math.max(
    ...['src', 'next.config.ts', 'package-lock.json', 'scripts/bundle-cli.mjs'].map((name) =>
      newest(path.join(home, name)),
    ),
  );
  return statSync(stamp).mtimeMs >= sources;
}

/** The command-line program: a second or two. */
export function buildProgram() {
  return run(process.execPath, ['scripts/bundle-cli.mjs']);
}

/** The application: half a minute or more, beside other work. */
export async function buildApplication() {
  const began = new Date();
  const code = await runBeside(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (code === 0) {
    writeFileSync(stamp, '');
    utimesSync(stamp, began, began);
  }
  return code;
}
