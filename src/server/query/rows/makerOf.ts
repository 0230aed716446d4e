import { readFileSync } from 'node:fs';
import path from 'node:path';
import { isLocalMac } from '../../../core/values/mac';
import { programFolder, type Db } from '../../../store/base/database';
import { readMakers } from '../../../store/makers';

let published: Record<string, string> | undefined;

/** The published registry of 24-bit prefixes, read on first use. */
function publishedMakers(): Record<string, string> {
  published ??= JSON.parse(
    readFileSync(path.join(programFolder(), 'node_modules/oui-data/index.json'), 'utf8'),
  ) as Record<string, string>;
  return published;
}

/** Names the maker of a MAC: the local list first, then the published one; a random address is said to be so. */
export function makerLookup(db: Db): (mac: string) => string {
  const local = readMakers(db);
  return (mac) => {
    const digits = mac.replaceAll(':', '');
    for (const length of [9, 7, 6]) {
      const name = local.get(digits.slice(0, length));
      if (name) return name;
    }
    if (isLocalMac(mac)) return 'random address';
    const entry = publishedMakers()[digits.slice(0, 6).toUpperCase()];
    return entry?.split('\n')[0] ?? '';
  };
}
