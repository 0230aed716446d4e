// Bundles and runs the benchmarks; prints one JSON object. `npm run bench -- walker` runs one of them alone.
import { build } from 'esbuild';
import path from 'node:path';
import { home, run } from './install.mjs';

await build({
  entryPoints: ['bench/main.ts', 'bench/denseAgents.ts'],
  outdir: '.tmp',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  logLevel: 'warning',
});
await build({
  entryPoints: {
    conclusion: 'src/collect/survey/threads/conclusionThread.ts',
    reader: 'src/collect/survey/threads/readerThread.ts',
  },
  outdir: '.tmp',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  logLevel: 'warning',
});
// the nursery is the one that the thread of conclusions has
process.exit(
  run(process.execPath, ['--max-semi-space-size=43', path.join(home, '.tmp/main.mjs'), ...process.argv.slice(2)], {
    env: { ...process.env, BOLIDE_HOME: home },
  }),
);
