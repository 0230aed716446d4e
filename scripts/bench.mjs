// Bundles and runs the benchmarks; prints one JSON object.
import { build } from 'esbuild';
import path from 'node:path';
import { home, run } from './install.mjs';

await build({ entryPoints: ['bench/main.ts'], outfile: '.tmp/bench.mjs', bundle: true, platform: 'node', format: 'esm', target: 'node20', packages: 'external', logLevel: 'warning' });
process.exit(run(process.execPath, [path.join(home, '.tmp/bench.mjs')], { env: { ...process.env, BOLIDE_HOME: home } }));
