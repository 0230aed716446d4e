// Bundles the command-line program to dist/cli.mjs and its reader thread to dist/reader.mjs; packages stay outside.
import { build } from 'esbuild';

await build({
  entryPoints: { cli: 'src/cli/main.ts', reader: 'src/collect/survey/threads/readerThread.ts' },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: true,
  logLevel: 'warning',
});
