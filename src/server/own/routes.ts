import * as yup from 'yup';
import { editWords } from '../../core/own/editWords';
import { nameMistake, nameOfLabel, type OwnedThing, type OwnField, type OwnValue } from '../../core/own/ownField';
import { fieldSchema, ownedThing } from '../../core/own/ownFieldSchema';
import type { FieldEdit, OwnChange } from '../../core/own/planEdit';
import { editVersion } from '../../store/edits/log';
import { ownFieldEdits } from '../../store/edits/ownFields';
import { ownValueChanges, ownValueEdits } from '../../store/edits/ownValues';
import { ownFieldAlone, readOwnFields } from '../../store/ownFields';
import { invalid, notFound } from '../access/problem';
import { route } from '../api/route';
import { written } from '../edits/written';
import { surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const shownChanges = 200;
const words = yup.array(yup.string().required().max(60)).max(50);
const editSchema = yup
  .object({
    thing: ownedThing(),
    ids: yup
      .array(yup.string().required())
      .min(1, 'Name at least one row')
      .max(2000)
      .meta({ description: 'the rows meant, by their ids' }),
    where: yup.string().max(4000).meta({ description: 'the rows meant, as a filter as of a survey' }),
    survey: yup.string().nullable(),
    set: yup.object().meta({ description: 'by field: what it is set to, null for nothing' }),
    add: yup.object().meta({ description: 'by field of several words: those put to it' }),
    remove: yup.object().meta({ description: 'by field of several words: those taken away' }),
    preview: yup.boolean().meta({ description: 'only tell what would change' }),
  })
  .noUnknown();
/** What people write beside what equipment tells: fields of their own, and edits of many rows. */
export const ownRoutes = [
  route({
    method: 'GET',
    path: '/fields',
    role: 'viewer',
    summary: 'Own fields: what people fill in, beside what equipment tells',
    run: ({ store }) => {
      const version = editVersion(store.db);
      const rows = readOwnFields(store.db);
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'POST',
    path: '/fields',
    role: 'administrator',
    summary: 'Make an own field, or change its heading and choices',
    body: fieldSchema,
    versioned: true,
    run: (call) => {
      const { thing: name, label, name: wanted, kind, choices = [] } = call.body;
      const { db } = call.store;
      const fieldName = wanted || nameOfLabel(label);
      const known = readOwnFields(db).find((field) => field.thing === name && field.name === fieldName);
      // a heading alone is of a new field: another one that is called so in filters stays as it is
      if (known && !wanted)
        throw invalid([
          {
            path: 'label',
            message: `“${known.label}” is called ${fieldName} in filters already: take another heading`,
          },
        ]);
      const mistake = known ? null : nameMistake(name as OwnedThing, fieldName);
      if (mistake) throw invalid([{ path: wanted ? 'name' : 'label', message: mistake }]);
      if (kind === 'choice' && choices.length === 0) {
        throw invalid([{ path: 'choices', message: 'Name at least one word to choose from' }]);
      }
      if (new Set(choices.map((choice) => choice.toLowerCase())).size < choices.length) {
        throw invalid([{ path: 'choices', message: 'One word is there twice' }]);
      }
      const after = {
        thing: name as OwnedThing,
        name: fieldName,
        label,
        kind,
        choices: kind === 'choice' ? choices : [],
      };
      const before = known ? ownFieldAlone(known) : null;
      const act = known ? 'changed an own field' : 'made an own field';
      const changes = [{ key: known ? String(known.id) : null, before, after }];
      const { key, edit, version } = written(call, ownFieldEdits, { act, words: `${label} of ${name}`, changes });
      return { id: Number(key), name: fieldName, edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/fields/{id}',
    role: 'administrator',
    summary: 'Take an own field out of use; its values stay',
    versioned: true,
    run: (call) => {
      const known = readOwnFields(call.store.db).find(({ id }) => id === Number(call.params.id));
      if (!known) throw notFound(`own field ${call.params.id}`);
      const changes = [{ key: String(known.id), before: ownFieldAlone(known), after: null }];
      const words = `${known.label} of ${known.thing}`;
      const { edit, version } = written(call, ownFieldEdits, { act: 'removed an own field', words, changes });
      return { edit, version };
    },
  }),
  route({
    method: 'POST',
    path: '/values',
    beside: true,
    role: 'operator',
    summary: 'Write own fields of many rows, all or nothing',
    body: editSchema,
    versioned: true,
    run: async (call) => {
      const { store, body } = call;
      if ((body.ids === undefined) === (body.where === undefined)) {
        throw invalid([{ path: 'where', message: 'Name the rows either by ids or by a filter (where)' }]);
      }
      const survey = surveyAsked(store, body);
      const edits = editsOf(body);
      if (Object.keys(edits).length === 0) {
        throw invalid([{ path: 'set', message: 'Say at least one field that is to change' }]);
      }
      const name = body.thing as OwnedThing;
      const version = editVersion(store.db);
      const meant = { survey, ...(body.ids ? { ids: body.ids } : { where: body.where ?? '' }) };
      const { rows, changes, mistakes } = await tableAnswers(store).ask('plannedEdit', name, meant, edits);
      if (mistakes.length > 0) throw invalid(mistakes.map(({ field, message }) => ({ path: `set.${field}`, message })));
      const told: Told = { rows, total: changes.length, changes: changes.slice(0, shownChanges), version };
      if (body.preview || changes.length === 0) return told;
      const fields = readOwnFields(store.db);
      const called = calledBy(fields, name, changes);
      const { edit } = written(
        call,
        { ...ownValueEdits[name], called },
        {
          act: 'wrote own fields',
          words: editWords(fields, name, Object.keys(edits), changes),
          changes: ownValueChanges(changes),
        },
      );
      return { ...told, edit, version: edit };
    },
  }),
];

/** What an edit changes, the first of many; its number once it is written. */
interface Told {
  rows: number;
  total: number;
  changes: OwnChange[];
  /** the version that was looked at, or that has it once it is written */
  version: number;
  edit?: number;
}

/** What a value is called where somebody else has written it meanwhile: `Owner of sgh-core-1`. */
function calledBy(fields: readonly OwnField[], thing: OwnedThing, changes: readonly OwnChange[]) {
  const rows = new Map(changes.map(({ id, row }) => [id, row]));
  const labels = new Map(fields.filter((one) => one.thing === thing).map(({ name, label }) => [name, label]));
  return (_value: OwnValue, key: string, field: string) => `${labels.get(field) ?? field} of ${rows.get(key) ?? key}`;
}

function editsOf({ set, add, remove }: yup.InferType<typeof editSchema>): Record<string, FieldEdit> {
  const edits: Record<string, FieldEdit> = {};
  for (const [field, value] of Object.entries(set ?? {})) edits[field] = { set: value as unknown };
  const lists = { add: (add ?? {}) as Record<string, unknown>, remove: (remove ?? {}) as Record<string, unknown> };
  for (const field of new Set([...Object.keys(lists.add), ...Object.keys(lists.remove)])) {
    if (edits[field]) {
      throw invalid([{ path: `add.${field}`, message: `${field} is set already: either set it, or put words to it` }]);
    }
    const read = (name: 'add' | 'remove') => {
      const value = lists[name][field] ?? [];
      if (!words.isValidSync(value, { strict: true })) {
        throw invalid([{ path: `${name}.${field}`, message: 'must be a list of short words' }]);
      }
      return value as string[];
    };
    edits[field] = { add: read('add'), remove: read('remove') };
  }
  return edits;
}
