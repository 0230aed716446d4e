// One command from a fresh clone to a running demo.
import { spawn } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';
import path from 'node:path';
import { home, installDependencies, runBeside } from './install.mjs';

const [major = 0] = process.versions.node.split('.').map(Number);
if (major < 20) {
  console.error(`Bolide needs Node 20 or later; this is ${process.version}.`);
  process.exit(1);
}
await installDependencies();
const { buildApplication, buildProgram, isBuilt } = await import('./build.mjs');
let args = process.argv.slice(2);
const program = path.join(home, 'bin/bolide');
if (!isBuilt()) {
  console.log('building the application and surveying the simulated agents meanwhile');
  if (args.includes('--fresh')) {
    const at = args.indexOf('--data');
    rmSync(path.resolve(home, at >= 0 ? (args[at + 1] ?? 'demo-data') : 'demo-data'), { recursive: true, force: true });
    args = args.filter((word) => word !== '--fresh');
  }
  if (buildProgram() !== 0) process.exit(1);
  const codes = await Promise.all([
    buildApplication(),
    runBeside(process.execPath, [program, 'demo', '--history-only', ...args]),
  ]);
  if (codes.some((code) => code !== 0) || !existsSync(path.join(home, '.next/BUILD_ID'))) {
    console.error('The demo could not be built: see the messages above.');
    process.exit(1);
  }
}
const demo = spawn(process.execPath, [program, 'demo', ...args], { cwd: home, stdio: 'inherit' });
// the signal reaches the whole group; this process only waits for the end
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => signal === 'SIGTERM' && demo.kill(signal));
demo.on('exit', (code) => process.exit(code ?? 1));
