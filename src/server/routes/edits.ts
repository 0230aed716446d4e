import * as yup from 'yup';
import { editWords } from '../../core/own/editWords';
import { ownedThings, type OwnedThing } from '../../core/own/ownField';
import type { FieldEdit } from '../../core/own/planEdit';
import { readOwnFields, recentEdits, StaleEditError, writeEdit } from '../../store/ownFields';
import { recordAct } from '../../store/people';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { surveyNumber } from '../things/moment';
import { withPlace } from '../things/ask';
import { tableAnswers } from '../tables/thread/tableAnswers';

const words = yup.array(yup.string().required().max(60)).max(50);
const editSchema = yup
  .object({
    thing: yup
      .string()
      .oneOf(ownedThings, ({ value }) => `“${String(value)}” has no own fields: use ${ownedThings.join(', ')}`)
      .required(),
    /** the rows meant: their ids, or a filter as of a survey */
    ids: yup.array(yup.string().required()).min(1, 'Name at least one row').max(2000),
    where: yup.string().max(4000),
    survey: yup.string().nullable(),
    /** by field: what it is set to, null for nothing */
    set: yup.object(),
    /** by field of several words: those put to it and those taken away */
    add: yup.object(),
    remove: yup.object(),
    /** only tell what would change */
    preview: yup.boolean(),
  })
  .noUnknown();

const shownChanges = 200;
const shownEdits = 20;

export const GET = route('operator', null, ({ store, url }) => {
  const thing = url.searchParams.get('thing');
  if (thing !== null && !ownedThings.includes(thing as OwnedThing))
    throw invalid([{ path: 'thing', message: `“${thing}” has no own fields: use ${ownedThings.join(', ')}` }]);
  const rows = recentEdits(store.db, thing as OwnedThing | null, shownEdits);
  return { rows, total: rows.length };
});

export const POST = route('operator', editSchema, async ({ store, person, body }) => {
  if ((body.ids === undefined) === (body.where === undefined))
    throw invalid([{ path: 'where', message: 'Name the rows either by ids or by a filter (where)' }]);
  const survey = surveyNumber(store.db, body.survey);
  if (survey === null) throw invalid([{ path: 'survey', message: `There is no sealed survey “${body.survey ?? ''}”` }]);
  const edits = editsOf(body);
  if (Object.keys(edits).length === 0)
    throw invalid([{ path: 'set', message: 'Say at least one field that is to change' }]);
  const thing = body.thing as OwnedThing;
  const { rows, changes, mistakes } = await withPlace(() =>
    tableAnswers(store).ask(
      'plannedEdit',
      thing,
      { survey, ...(body.ids ? { ids: body.ids } : { where: body.where ?? '' }) },
      edits,
    ),
  );
  if (mistakes.length > 0) throw invalid(mistakes.map(({ field, message }) => ({ path: `set.${field}`, message })));
  const told = { rows, total: changes.length, changes: changes.slice(0, shownChanges) };
  if (body.preview || changes.length === 0) return told;
  const what = editWords(readOwnFields(store.db), thing, Object.keys(edits), changes);
  try {
    const edit = writeEdit(store.db, { who: person.name, thing, words: what, changes });
    recordAct(store.db, person.name, 'wrote own fields', what);
    return { ...told, edit };
  } catch (error) {
    if (error instanceof StaleEditError)
      throw new Problem(409, 'Changed meanwhile', `${error.message}: nothing was written. Look again and repeat.`);
    throw error;
  }
});

function editsOf({ set, add, remove }: { set?: object; add?: object; remove?: object }): Record<string, FieldEdit> {
  const edits: Record<string, FieldEdit> = {};
  for (const [field, value] of Object.entries(set ?? {})) edits[field] = { set: value as unknown };
  const lists = { add: (add ?? {}) as Record<string, unknown>, remove: (remove ?? {}) as Record<string, unknown> };
  for (const field of new Set([...Object.keys(lists.add), ...Object.keys(lists.remove)])) {
    if (edits[field])
      throw invalid([{ path: `add.${field}`, message: `${field} is set already: either set it, or put words to it` }]);
    const read = (name: 'add' | 'remove') => {
      const value = lists[name][field] ?? [];
      if (!words.isValidSync(value, { strict: true }))
        throw invalid([{ path: `${name}.${field}`, message: 'must be a list of short words' }]);
      return value as string[];
    };
    edits[field] = { add: read('add'), remove: read('remove') };
  }
  return edits;
}
