import { contractDifference, planContracts, type ContractChange } from '../../core/cover/planContracts';
import { serialKey } from '../../core/cover/contract';
import type { FileMistake } from '../../core/values/fileMistake';
import type { Store } from '../../store/base/database';
import { readContracts } from '../../store/contracts';
import { tablesOf } from '../query/tables/estateTables';

/** What a file of contracts would make, as it is shown before anything is written. */
export interface ContractImport {
  contracts: number;
  added: number;
  changed: number;
  /** what changes, contract by contract, the first of many */
  changes: {
    number: string;
    isNew: boolean;
    kind: string;
    until: string | null;
    serials: number;
    differs: { field: string; before: string; after: string }[];
  }[];
  /** serials that no survey has seen, the first of many, and how many they are */
  unseen: { count: number; first: string[] };
  passedOver: string[];
  mistakes: FileMistake[];
}

const shown = 200;
const shownUnseen = 20;

/** Reads what a file makes of the contracts there are, and what it says of serials nobody has seen. */
export function plannedContracts(
  store: Store,
  survey: number,
  head: string[],
  lines: { line: number; cells: string[] }[],
): { told: ContractImport; writes: ContractChange[] } {
  const plan = planContracts(head, lines, readContracts(store.db));
  const unseen = unseenSerials(store, survey, plan.changes);
  return {
    writes: plan.changes,
    told: {
      contracts: plan.contracts,
      added: plan.changes.filter(({ before }) => !before).length,
      changed: plan.changes.filter(({ before }) => before).length,
      changes: plan.changes.slice(0, shown).map((change) => ({
        number: change.after.number,
        isNew: change.before === null,
        kind: change.after.kind,
        until: change.after.until,
        serials: change.after.serials.length,
        differs: contractDifference(change),
      })),
      unseen: { count: unseen.length, first: unseen.slice(0, shownUnseen) },
      passedOver: plan.passedOver,
      mistakes: plan.mistakes,
    },
  };
}

function unseenSerials(store: Store, survey: number, changes: ContractChange[]): string[] {
  const serials = new Map(
    changes.flatMap(({ after }) => after.serials.map((serial) => [serialKey(serial), serial] as const)),
  );
  if (serials.size === 0 || survey === 0) return [...serials.values()];
  for (const value of tablesOf(store).table('ledger', survey, null).column('serial').dictionary.values)
    if (typeof value === 'string') serials.delete(serialKey(value));
  return [...serials.values()];
}

/** What an import did, in a line for the list of what was done. */
export const importWords = ({ added, changed }: Pick<ContractImport, 'added' | 'changed'>, file: string): string =>
  `${[added > 0 && `${added} new`, changed > 0 && `${changed} changed`].filter(Boolean).join(', ')} from ${file}`;
