import * as yup from 'yup';
import { nameMistake, nameOfLabel, ownedThings, ownKinds, type OwnedThing } from '../../core/own/ownField';
import { readOwnFields, saveOwnField } from '../../store/ownFields';
import { recordAct } from '../../store/people';
import { line } from '../access/line';
import { invalid } from '../access/problem';
import { route } from '../access/route';

const fieldSchema = yup
  .object({
    thing: yup
      .string()
      .oneOf(ownedThings, ({ value }) => `“${String(value)}” has no own fields: use ${ownedThings.join(', ')}`)
      .required(),
    label: line('The heading').required('Give the field a heading').max(40),
    name: line('The name'),
    kind: yup
      .string()
      .oneOf(ownKinds, ({ value }) => `“${String(value)}” is no kind: use ${ownKinds.join(', ')}`)
      .required(),
    choices: yup.array(line('A word').required('A choice has at least one letter').max(60)).max(100),
  })
  .noUnknown();

export const GET = route('viewer', null, ({ store }) => {
  const rows = readOwnFields(store.db);
  return { rows, total: rows.length };
});

export const POST = route(
  'administrator',
  fieldSchema,
  ({ store, person, body: { thing, label, name: wanted, kind, choices = [] } }) => {
    const name = wanted || nameOfLabel(label);
    const known = readOwnFields(store.db).find((field) => field.thing === thing && field.name === name);
    const mistake = known ? null : nameMistake(thing as OwnedThing, name);
    if (mistake) throw invalid([{ path: wanted ? 'name' : 'label', message: mistake }]);
    if (kind === 'choice' && choices.length === 0)
      throw invalid([{ path: 'choices', message: 'Name at least one word to choose from' }]);
    if (new Set(choices.map((choice) => choice.toLowerCase())).size < choices.length)
      throw invalid([{ path: 'choices', message: 'One word is there twice' }]);
    const id = saveOwnField(store.db, {
      thing: thing as OwnedThing,
      name,
      label,
      kind,
      choices: kind === 'choice' ? choices : [],
    });
    if (id === null) throw invalid([{ path: 'kind', message: `“${name}” has values of another kind already` }]);
    recordAct(store.db, person.name, known ? 'changed an own field' : 'made an own field', `${label} of ${thing}`);
    return { id, name };
  },
);
