import type { Outlet } from '../../core/floor/outlet';
import { planOutlets, type OutletChange } from '../../core/floor/planOutlets';
import { outletEdits } from '../../store/edits/outlets';
import { outletAlone, readOutlets } from '../../store/outlets';
import { importWords, shownChanges, type ImportDomain } from '../imports/domain';
import { thingRows } from '../query/query';
import { portLookup } from './outletRows';

/** Outlets from the list that whoever pulled the wires keeps. */
export const outletImport: ImportDomain = {
  name: 'outlets',
  title: 'Outlets and patch panels',
  one: 'outlet',
  many: 'outlets',
  about:
    'A line for each outlet. An outlet in the file becomes what the file says of it; those that are not in it stay.',
  columns: [
    { name: 'site', isNeeded: true, about: '' },
    { name: 'outlet', isNeeded: true, about: 'its label, as it stands on the wall' },
    { name: 'room', isNeeded: false, about: '' },
    { name: 'panel', isNeeded: false, about: 'the patch panel' },
    { name: 'position', isNeeded: false, about: 'the place on it' },
    { name: 'device', isNeeded: false, about: 'what it is patched to' },
    { name: 'port', isNeeded: false, about: 'and which of its ports' },
    { name: 'note', isNeeded: false, about: '' },
  ],
  now: '/api/v1/outlets?format=csv',
  editable: outletEdits,
  act: 'took outlets from a file',
  plan: (store, survey, head, lines, file) => {
    const known = readOutlets(store.db);
    const plan = planOutlets(head, lines, known, portLookup(store, survey));
    const names = new Map(
      (survey === 0 ? [] : thingRows(store, 'devices', survey, null)).map((row) => [Number(row.id), String(row.name)]),
    );
    const keyOf = ({ site, label }: Outlet) => `${site}\n${label}`.toLowerCase();
    const idOf = new Map(known.map((outlet) => [keyOf(outlet), String(outlet.id)]));
    const told = {
      named: plan.outlets,
      added: plan.changes.filter(({ before }) => !before).length,
      changed: plan.changes.filter(({ before }) => before).length,
      same: plan.outlets - plan.changes.length,
      columns: ['Site', 'Outlet'],
      changes: plan.changes.slice(0, shownChanges).map((change) => ({
        cells: [change.after.site, change.after.label],
        isNew: change.before === null,
        differs: differs(change, names),
      })),
      notes: [],
      passedOver: plan.passedOver,
      mistakes: plan.mistakes,
    };
    const changes = plan.changes.map(({ before, after }) => ({
      key: before === null ? null : (idOf.get(keyOf(before)) ?? null),
      before: before && outletAlone(before),
      after,
    }));
    return { told, changes, words: importWords(told, file) };
  },
};

function differs({ before, after }: OutletChange, names: Map<number, string>) {
  if (before === null) return [];
  const portWords = ({ port }: Outlet) =>
    port ? `${names.get(port.deviceId) ?? `device ${port.deviceId}`} ${port.name}` : '';
  return [
    ...(['room', 'panel', 'position', 'note'] as const).map((field) => ({
      field,
      before: before[field],
      after: after[field],
    })),
    { field: 'port', before: portWords(before), after: portWords(after) },
  ].filter((one) => one.before !== one.after);
}
