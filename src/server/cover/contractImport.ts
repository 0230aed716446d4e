import { contractDifference, planContracts, type ContractChange } from '../../core/cover/planContracts';
import { serialKey } from '../../core/cover/contract';
import type { Store } from '../../store/base/database';
import { contractAlone, readContracts } from '../../store/contracts';
import { contractEdits } from '../../store/edits/contracts';
import { importWords, shownChanges, type ImportDomain } from '../imports/domain';
import { tablesOf } from '../query/tables/estateTables';

const shownUnseen = 20;

/** Contracts from the list that whoever buys keeps. */
export const contractImport: ImportDomain = {
  name: 'contracts',
  title: 'Contracts, warranties, licences',
  one: 'contract',
  many: 'contracts',
  about:
    'A line for each serial, or several serials in one cell. Days are written like 2026-11-23. A contract in the file becomes what the file says of it; those that are not in it stay.',
  columns: [
    { name: 'number', isNeeded: true, about: 'of the contract, as on paper' },
    { name: 'kind', isNeeded: true, about: 'warranty, contract or licence' },
    { name: 'until', isNeeded: true, about: 'the last day; empty: without an end' },
    { name: 'serial', isNeeded: true, about: 'what it covers' },
    { name: 'supplier', isNeeded: false, about: '' },
    { name: 'level', isNeeded: false, about: 'what it promises' },
    { name: 'contact', isNeeded: false, about: 'whom to call' },
    { name: 'from', isNeeded: false, about: 'the first day' },
    { name: 'parts', isNeeded: false, about: 'yes or no: whether what a chassis holds is covered with it' },
    { name: 'note', isNeeded: false, about: '' },
  ],
  now: '/api/v1/contracts?format=csv',
  editable: contractEdits,
  act: 'took contracts from a file',
  plan: (store, survey, head, lines, file) => {
    const known = readContracts(store.db);
    const idOf = new Map(known.map(({ id, number }) => [number.toLowerCase(), String(id)]));
    const plan = planContracts(head, lines, known);
    const unseen = unseenSerials(store, survey, plan.changes);
    const first = unseen.slice(0, shownUnseen).join(', ');
    const told = {
      named: plan.contracts,
      added: plan.changes.filter(({ before }) => !before).length,
      changed: plan.changes.filter(({ before }) => before).length,
      same: plan.contracts - plan.changes.length,
      columns: ['Contract', 'Kind', 'Until', 'Serials'],
      changes: plan.changes.slice(0, shownChanges).map((change) => ({
        cells: [
          change.after.number,
          change.after.kind,
          change.after.until ?? 'no end',
          String(change.after.serials.length),
        ],
        isNew: change.before === null,
        differs: contractDifference(change),
      })),
      notes:
        unseen.length === 0
          ? []
          : [
              `${unseen.length.toLocaleString('en')} ${unseen.length === 1 ? 'serial' : 'serials'} no survey has seen: ${first}${unseen.length > shownUnseen ? ' …' : ''}. On a shelf, perhaps, or mistyped.`,
            ],
      passedOver: plan.passedOver,
      mistakes: plan.mistakes,
    };
    const changes = plan.changes.map(({ before, after }) => ({
      key: before === null ? null : (idOf.get(before.number.toLowerCase()) ?? null),
      before: before && contractAlone(before),
      after,
    }));
    return { told, changes, words: importWords(told, file) };
  },
};

function unseenSerials(store: Store, survey: number, changes: ContractChange[]): string[] {
  const serials = new Map(
    changes.flatMap(({ after }) => after.serials.map((serial) => [serialKey(serial), serial] as const)),
  );
  if (serials.size === 0 || survey === 0) return [...serials.values()];
  for (const value of tablesOf(store).table('ledger', survey, null).column('serial').dictionary.values)
    if (typeof value === 'string') serials.delete(serialKey(value));
  return [...serials.values()];
}
