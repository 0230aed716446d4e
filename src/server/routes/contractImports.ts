import * as yup from 'yup';
import { recordAct } from '../../store/people';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { importWords } from '../contracts';
import { csvGiven, fileMistakes } from '../files/csvGiven';
import { surveyNumber } from '../things/moment';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { writtenContracts } from './contracts';

const importSchema = yup
  .object({
    csv: yup.string().required('The file is empty'),
    name: yup.string().max(200),
    preview: yup.boolean(),
  })
  .noUnknown();

/** Contracts from a CSV file, all or none. */
export const POST = route(
  'operator',
  importSchema,
  async ({ store, person, body }) => {
    const file = csvGiven(body.csv);
    const { told, writes } = await tableAnswers(store).ask(
      'plannedContracts',
      surveyNumber(store.db, 'latest') ?? 0,
      file.head,
      file.lines,
    );
    if (body.preview) return told;
    if (told.mistakes.length > 0)
      throw invalid(fileMistakes(told.mistakes), 'Nothing was taken: the file has mistakes.');
    if (writes.length === 0) return told;
    const words = importWords(told, body.name ?? 'a file');
    const { edit } = writtenContracts(store.db, person.name, words, writes);
    recordAct(store.db, person.name, 'took contracts from a file', words);
    return { ...told, edit };
  },
  { largest: 16 * 1024 * 1024 },
);
