import { editWords } from '../../core/own/editWords';
import { ownValueText, type OwnedThing } from '../../core/own/ownField';
import { things } from '../../core/things/things';
import { ownValueChanges, ownValueEdits } from '../../store/edits/ownValues';
import { readOwnFields } from '../../store/ownFields';
import { shownChanges, type ImportDomain } from '../imports/domain';
import { plannedImport } from './planned';

const keyWords: Record<OwnedThing, string> = {
  devices: 'name, serial or address',
  ports: 'port (the device and its port, as the table writes them: “access-1 3/1”)',
  endpoints: 'mac',
};

/** Own fields of a thing from a file: each line names its row. */
export const valueImport = (thing: OwnedThing): ImportDomain => ({
  name: thing,
  title: `Own fields of ${things[thing].title.toLowerCase()}`,
  one: 'value',
  many: 'values',
  about: `A line for each of the ${things[thing].title.toLowerCase()}, named by its ${keyWords[thing]}. An empty cell leaves nothing in the field; what is not in the file stays.`,
  columns: (store) => [
    { name: keyWords[thing], isNeeded: true, about: 'which row is meant' },
    ...readOwnFields(store.db)
      .filter((field) => field.thing === thing)
      .map(({ label }) => ({ name: label, isNeeded: false, about: 'what the field becomes' })),
  ],
  now: `/api/v1/${thing}?format=csv`,
  editable: ownValueEdits[thing],
  act: 'took own fields from a file',
  plan: (store, survey, head, lines, file) => {
    const fields = readOwnFields(store.db);
    const plan = plannedImport(store, thing, survey, head, lines);
    const labelOf = (name: string) => fields.find((one) => one.thing === thing && one.name === name)?.label ?? name;
    const added = plan.changes.filter(({ before }) => before === null).length;
    return {
      told: {
        named: plan.rows,
        added,
        changed: plan.changes.length - added,
        same: null,
        columns: ['Row'],
        changes: plan.changes.slice(0, shownChanges).map(({ row, field, before, after }) => ({
          cells: [row],
          isNew: false,
          differs: [{ field: labelOf(field), before: ownValueText(before), after: ownValueText(after) }],
        })),
        notes: [],
        passedOver: plan.passedOver,
        mistakes: plan.mistakes,
      },
      changes: ownValueChanges(plan.changes),
      words: `${editWords(fields, thing, plan.fields, plan.changes)} from ${file}`,
    };
  },
});
