/** What is installed, with its version. */
export interface Package {
  name: string;
  version: string;
}

const shell = new Set(['bin', 'sbin', 'usr', 'opt', 'lib', 'libexec', 'local', 'srv', 'etc', 'var', 'tmp', 'home']);

/**
 * The package that a process came with, as far as names tell: one called like the process, or like it without the letter that says it waits in the background (`ntpd` of `ntp`), or like a folder of its path (`/opt/tally/bin/tallydb` of
 * `tally`), or one that begins with such a name. Null where none does.
 */
export function packageOf(process: string, path: string, packages: ReadonlyMap<string, Package>): Package | null {
  const own = process.toLowerCase();
  const folders = path
    .toLowerCase()
    .split(/[/\\]/)
    .slice(0, -1)
    .filter((folder) => folder !== '' && !shell.has(folder))
    .reverse();
  for (const name of [own, own.replace(/d$/, ''), ...folders]) {
    const found = name.length > 1 ? packages.get(name) : undefined;
    if (found) return found;
  }
  for (const name of [own, own.replace(/d$/, ''), ...folders]) {
    if (name.length < 3) continue;
    for (const [known, found] of packages) if (known.startsWith(`${name}-`)) return found;
  }
  return null;
}
