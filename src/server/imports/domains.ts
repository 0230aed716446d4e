import { ownedThings } from '../../core/own/ownField';
import type { Store } from '../../store/base/database';
import { contractImport } from '../cover/contractImport';
import { advisoryImport } from '../firmware/advisoryImport';
import { releaseImport } from '../firmware/releaseImport';
import { outletImport } from '../floor/outletImport';
import { valueImport } from '../own/valueImport';
import type { FileLine, ImportDomain, PlannedFile } from './domain';
import { prefixImport } from '../sites/prefixImport';
import { makerImport } from './makerImport';

/** Everything that can come in as a CSV file, in the interface, the API and on the command line. */
export const importDomains: readonly ImportDomain[] = [
  contractImport,
  outletImport,
  ...ownedThings.map((thing) => valueImport(thing)),
  makerImport,
  prefixImport,
  releaseImport,
  advisoryImport,
];

export const importNames = importDomains.map(({ name }) => name);

export const importNamed = (name: string): ImportDomain | undefined => importDomains.find((one) => one.name === name);

/** What a file would change: answered where tables are. */
export function plannedFile(
  store: Store,
  survey: number,
  name: string,
  head: string[],
  lines: FileLine[],
  file: string,
): PlannedFile | null {
  return importNamed(name)?.plan(store, survey, head, lines, file) ?? null;
}
