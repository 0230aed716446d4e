import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { tableRows, type TableRow } from '../../core/mib/table';
import type { Varbind } from '../../core/mib/varbind';
import { parseWalk, WalkError } from '../../core/mib/walkFile';
import { addressOrNull } from '../../core/values/ipAddress';
import { isBelow } from '../../core/values/oid';
import type { VarbindSource } from '../source';

/** A walk file answers as the agent it was taken from. */
export class WalkFileSource implements VarbindSource {
  readonly #byOid: Map<string, Varbind>;

  constructor(readonly varbinds: Varbind[]) {
    this.#byOid = new Map(varbinds.map((varbind) => [varbind.oid, varbind]));
  }

  get(oids: string[]): Promise<Varbind[]> {
    return Promise.resolve(oids.flatMap((oid) => this.#byOid.get(oid) ?? []));
  }

  columns(entry: string, columns: readonly number[]): Promise<TableRow[]> {
    const roots = columns.map((column) => `${entry}.${column}`);
    return Promise.resolve(
      tableRows(
        entry,
        this.varbinds.filter(({ oid }) => roots.some((root) => isBelow(root, oid))),
      ),
    );
  }

  present(entries: string[]): Promise<Set<string>> {
    return Promise.resolve(new Set(entries));
  }

  inContext(): null {
    return null;
  }

  close(): void {}
}

export interface WalkFile {
  address: string;
  source: WalkFileSource;
}

const largestFile = 256 * 1024 * 1024;

/** Reads every walk of a folder. A file that cannot be read is told with its place; the others are kept. */
export function readWalkFolder(folder: string): { walks: WalkFile[]; problems: { file: string; reason: string }[] } {
  const walks: WalkFile[] = [];
  const problems: { file: string; reason: string }[] = [];
  for (const file of readdirSync(folder).sort()) {
    const whole = path.join(folder, file);
    const { size, isFile } = { size: statSync(whole).size, isFile: statSync(whole).isFile() };
    if (!isFile || file.startsWith('.')) continue;
    const address = addressOrNull(file.replace(/\.(txt|walk|snmpwalk)$/i, ''));
    if (!address) problems.push({ file, reason: 'its name is not an address: call it like 10.72.4.1.walk' });
    else if (size > largestFile) problems.push({ file, reason: `is larger than ${largestFile / 1024 / 1024} MB` });
    else {
      try {
        walks.push({ address, source: new WalkFileSource(parseWalk(readFileSync(whole, 'utf8'))) });
      } catch (error) {
        if (!(error instanceof WalkError)) throw error;
        problems.push({ file, reason: error.message });
      }
    }
  }
  return { walks, problems };
}
