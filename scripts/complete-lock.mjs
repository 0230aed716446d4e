// After `npm install` or an update of packages: puts back into package-lock.json the optional packages of other platforms that npm left out because
// they could not be fetched on this machine. Without them `npm ci` takes the lock for out of date. They are only named, never installed here.
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { home } from './install.mjs';

const file = path.join(home, 'package-lock.json');
const lock = JSON.parse(readFileSync(file, 'utf8'));
const systems = ['darwin', 'win32', 'freebsd', 'android', 'netbsd', 'openbsd', 'openharmony', 'sunos', 'aix', 'linux'];
const processors = ['arm64', 'x64', 'ia32', 'ppc64', 's390x', 'riscv64', 'loong64', 'mips64el', 'arm', 'wasm32'];
let added = 0;
for (const [where, entry] of Object.entries(lock.packages)) {
  for (const [name, range] of Object.entries(entry.optionalDependencies ?? {})) {
    const version = range.replace(/^[\^~]/, '');
    if (
      lock.packages[`node_modules/${name}`] ||
      lock.packages[`${where}/node_modules/${name}`] ||
      !/^\d+\.\d+\.\d+/.test(version)
    )
      continue;
    const os = systems.find((system) => name.includes(system));
    const cpu = processors.find((processor) => name.includes(processor));
    if (!os && !cpu) continue;
    lock.packages[`node_modules/${name}`] = {
      version,
      optional: true,
      ...(entry.dev && { dev: true }),
      ...(cpu && { cpu: [cpu] }),
      ...(os && { os: [os] }),
    };
    added++;
  }
}
lock.packages = Object.fromEntries(Object.entries(lock.packages).sort(([a], [b]) => (a < b ? -1 : 1)));
writeFileSync(file, `${JSON.stringify(lock, null, 2)}\n`);
console.log(`${added} packages of other platforms named`);
