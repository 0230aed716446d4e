import * as yup from 'yup';
import { editWords } from '../../core/own/editWords';
import { ownedThings, type OwnedThing } from '../../core/own/ownField';
import { readOwnFields, StaleEditError, writeEdit } from '../../store/ownFields';
import { recordAct } from '../../store/people';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { csvGiven, fileMistakes } from '../files/csvGiven';
import { surveyNumber } from '../things/moment';
import { tableAnswers } from '../tables/thread/tableAnswers';

const importSchema = yup
  .object({
    thing: yup
      .string()
      .oneOf(ownedThings, ({ value }) => `“${String(value)}” has no own fields: use ${ownedThings.join(', ')}`)
      .required(),
    csv: yup.string().required('The file is empty'),
    name: yup.string().max(200),
    preview: yup.boolean(),
  })
  .noUnknown();

const shownChanges = 200;
const largest = 16 * 1024 * 1024;

export const POST = route(
  'operator',
  importSchema,
  async ({ store, person, body }) => {
    const thing = body.thing as OwnedThing;
    const file = csvGiven(body.csv);
    const plan = await tableAnswers(store).ask(
      'plannedImport',
      thing,
      surveyNumber(store.db, 'latest') ?? 0,
      file.head,
      file.lines,
    );
    const told = { ...plan, total: plan.changes.length, changes: plan.changes.slice(0, shownChanges) };
    if (body.preview) return told;
    if (plan.mistakes.length > 0)
      throw invalid(fileMistakes(plan.mistakes), 'Nothing was taken: the file has mistakes.');
    if (plan.changes.length === 0) return told;
    const what = `${editWords(readOwnFields(store.db), thing, plan.fields, plan.changes)} from ${body.name ?? 'a file'}`;
    try {
      const edit = writeEdit(store.db, { who: person.name, thing, words: what, changes: plan.changes });
      recordAct(store.db, person.name, 'took own fields from a file', what);
      return { ...told, edit };
    } catch (error) {
      if (error instanceof StaleEditError)
        throw new Problem(409, 'Changed meanwhile', `${error.message}: nothing was written. Look again and repeat.`);
      throw error;
    }
  },
  { largest },
);
