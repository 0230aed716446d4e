import * as yup from 'yup';
import { editWords } from '../../core/own/editWords';
import { nameMistake, nameOfLabel, ownedThings, ownKinds, type OwnedThing } from '../../core/own/ownField';
import type { FieldEdit } from '../../core/own/planEdit';
import type { Db } from '../../store/base/database';
import {
  readOwnFields,
  recentEdits,
  removeOwnField,
  restoreOwnField,
  saveOwnField,
  StaleEditError,
  undoEdit,
  writeEdit,
} from '../../store/ownFields';
import { recordAct } from '../../store/audit';
import { line } from '../access/line';
import { invalid, notFound, Problem } from '../access/problem';
import { oneOf } from '../api/parameters';
import { megabytes, route } from '../api/route';
import { csvGiven, fileMistakes } from '../files/csvGiven';
import { newestSurvey, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const shownChanges = 200;
const shownEdits = 20;
const notOwned = ({ value }: { value?: unknown }) =>
  `“${String(value)}” has no own fields: use ${ownedThings.join(', ')}`;
const thing = () => yup.string().oneOf(ownedThings, notOwned).required();
const noKind = ({ value }: { value?: unknown }) => `“${String(value)}” is no kind: use ${ownKinds.join(', ')}`;
const fieldSchema = yup
  .object({
    thing: thing(),
    label: line('The heading').required('Give the field a heading').max(40),
    name: line('The name'),
    kind: yup.string().oneOf(ownKinds, noKind).required(),
    choices: yup.array(line('A word').required('A choice has at least one letter').max(60)).max(100),
  })
  .noUnknown();
const words = yup.array(yup.string().required().max(60)).max(50);
const editSchema = yup
  .object({
    thing: thing(),
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
const importSchema = yup
  .object({
    thing: thing(),
    csv: yup.string().required('The file is empty'),
    name: yup.string().max(200),
    preview: yup.boolean(),
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
      const rows = readOwnFields(store.db);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/fields',
    role: 'administrator',
    summary: 'Make an own field, or change its heading and choices',
    body: fieldSchema,
    run: ({ store, person, body: { thing: name, label, name: wanted, kind, choices = [] } }) => {
      const fieldName = wanted || nameOfLabel(label);
      const known = readOwnFields(store.db).find((field) => field.thing === name && field.name === fieldName);
      const mistake = known ? null : nameMistake(name as OwnedThing, fieldName);
      if (mistake) throw invalid([{ path: wanted ? 'name' : 'label', message: mistake }]);
      if (kind === 'choice' && choices.length === 0) {
        throw invalid([{ path: 'choices', message: 'Name at least one word to choose from' }]);
      }
      if (new Set(choices.map((choice) => choice.toLowerCase())).size < choices.length) {
        throw invalid([{ path: 'choices', message: 'One word is there twice' }]);
      }
      const field = {
        thing: name as OwnedThing,
        name: fieldName,
        label,
        kind,
        choices: kind === 'choice' ? choices : [],
      };
      const id = saveOwnField(store.db, field);
      if (id === null) throw invalid([{ path: 'kind', message: `“${fieldName}” has values of another kind already` }]);
      recordAct(store.db, person.name, known ? 'changed an own field' : 'made an own field', `${label} of ${name}`);
      return { id, name: fieldName };
    },
  }),
  route({
    method: 'DELETE',
    path: '/fields/{id}',
    role: 'administrator',
    summary: 'Take an own field out of use; its values stay',
    run: ({ store, person, params }) => {
      const field = removeOwnField(store.db, Number(params.id));
      if (!field) throw notFound(`own field ${params.id}`);
      recordAct(store.db, person.name, 'removed an own field', `${field.label} of ${field.thing}`);
      return {};
    },
  }),
  route({
    method: 'POST',
    path: '/fields/{id}/restore',
    role: 'administrator',
    summary: 'Bring a removed own field back, with its values',
    run: ({ store, person, params }) => {
      const name = restoreOwnField(store.db, Number(params.id));
      if (name === null) throw notFound(`own field ${params.id}`);
      recordAct(store.db, person.name, 'brought an own field back', name);
      return {};
    },
  }),
  route({
    method: 'GET',
    path: '/edits',
    role: 'operator',
    summary: 'Edits of own fields, newest first',
    query: yup.object({ thing: oneOf(ownedThings, 'only of this thing') }),
    run: ({ store, query }) => {
      const rows = recentEdits(store.db, query.thing ?? null, shownEdits);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/edits',
    role: 'operator',
    summary: 'Write own fields of many rows, all or nothing',
    body: editSchema,
    run: async ({ store, person, body }) => {
      if ((body.ids === undefined) === (body.where === undefined)) {
        throw invalid([{ path: 'where', message: 'Name the rows either by ids or by a filter (where)' }]);
      }
      const survey = surveyAsked(store, body);
      const edits = editsOf(body);
      if (Object.keys(edits).length === 0) {
        throw invalid([{ path: 'set', message: 'Say at least one field that is to change' }]);
      }
      const name = body.thing as OwnedThing;
      const meant = { survey, ...(body.ids ? { ids: body.ids } : { where: body.where ?? '' }) };
      const { rows, changes, mistakes } = await tableAnswers(store).ask('plannedEdit', name, meant, edits);
      if (mistakes.length > 0) throw invalid(mistakes.map(({ field, message }) => ({ path: `set.${field}`, message })));
      const told: Told = { rows, total: changes.length, changes: changes.slice(0, shownChanges) };
      if (body.preview || changes.length === 0) return told;
      const what = editWords(readOwnFields(store.db), name, Object.keys(edits), changes);
      const edit = written(store.db, { who: person.name, thing: name, words: what, changes });
      recordAct(store.db, person.name, 'wrote own fields', what);
      return { ...told, edit };
    },
  }),
  route({
    method: 'POST',
    path: '/edits/imports',
    role: 'operator',
    summary: 'Write own fields from a CSV file; nothing is taken if a line has a mistake',
    body: importSchema,
    largest: megabytes(16),
    run: async ({ store, person, body }) => {
      const name = body.thing as OwnedThing;
      const file = csvGiven(body.csv);
      const plan = await tableAnswers(store).ask('plannedImport', name, newestSurvey(store), file.head, file.lines);
      const told: Omit<typeof plan, 'changes'> & Told = {
        ...plan,
        total: plan.changes.length,
        changes: plan.changes.slice(0, shownChanges),
      };
      if (body.preview) return told;
      if (plan.mistakes.length > 0)
        throw invalid(fileMistakes(plan.mistakes), 'Nothing was taken: the file has mistakes.');
      if (plan.changes.length === 0) return told;
      const what = `${editWords(readOwnFields(store.db), name, plan.fields, plan.changes)} from ${body.name ?? 'a file'}`;
      const edit = written(store.db, { who: person.name, thing: name, words: what, changes: plan.changes });
      recordAct(store.db, person.name, 'took own fields from a file', what);
      return { ...told, edit };
    },
  }),
  route({
    method: 'POST',
    path: '/edits/{id}/undo',
    role: 'operator',
    summary: 'Take an edit back; what was written over since stays',
    run: ({ store, person, params }) => {
      const undone = undoEdit(store.db, Number(params.id), person.name);
      if (!undone)
        throw new Problem(409, 'Nothing to take back', 'There is no such edit, or it was taken back already.');
      recordAct(store.db, person.name, 'took an edit back', `edit ${params.id}`);
      return { edit: undone.id, back: undone.back, stay: undone.stay };
    },
  }),
];

/** What an edit changes, the first of many; its number once it is written. */
interface Told {
  rows: number;
  total: number;
  changes: Parameters<typeof writeEdit>[1]['changes'];
  edit?: number;
}

/** @throws Problem where somebody was faster */
function written(db: Db, edit: Parameters<typeof writeEdit>[1]): number {
  try {
    return writeEdit(db, edit);
  } catch (error) {
    if (!(error instanceof StaleEditError)) throw error;
    throw new Problem(409, 'Changed meanwhile', `${error.message}: nothing was written. Look again and repeat.`);
  }
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
