// Installs the locked dependencies and builds the program: what `bin/bolide serve` needs.
import { home, installDependencies } from './install.mjs';

await installDependencies();
const { buildApplication, buildProgram, isBuilt } = await import('./build.mjs');
if (!isBuilt() && (buildProgram() !== 0 || (await buildApplication()) !== 0)) {
  console.error('The application could not be built: see the messages above.');
  process.exit(1);
}
console.log(`ready: ${home}/bin/bolide serve --data DIR`);
