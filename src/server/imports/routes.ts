import * as yup from 'yup';
import { editVersion } from '../../store/edits/log';
import { invalid, notFound, Problem } from '../access/problem';
import { megabytes, route } from '../api/route';
import { written } from '../edits/written';
import { csvInRequest, fileMistakes } from './csvInRequest';
import { newestSurvey } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import type { FileTold } from './domain';
import { importDomains, importNamed } from './domains';

const importSchema = yup
  .object({
    csv: yup
      .string()
      .required('The file is empty')
      .meta({ description: 'a table, or a list of entries in JSON or YAML' }),
    name: yup.string().max(200).meta({ description: 'what the file is called, for the record of acts' }),
    preview: yup.boolean().meta({ description: 'only tell what would change' }),
  })
  .noUnknown();

/** Lists that people keep, taken from CSV files: looked at first, taken as a whole or not at all. */
export const importRoutes = [
  route({
    method: 'GET',
    path: '/imports',
    role: 'operator',
    summary: 'What can be taken from files, and with which columns',
    run: ({ store, person }) => {
      const mine = importDomains.filter(({ role }) => role !== 'administrator' || person.role === 'administrator');
      const rows = mine.map(
        ({ name, title, one, many, about, columns, now, editable, files = 'CSV, JSON or YAML' }) => ({
          name,
          title,
          one,
          many,
          about,
          columns: typeof columns === 'function' ? columns(store) : columns,
          now,
          files,
          edits: editable.kind,
        }),
      );
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/imports/{name}',
    beside: true,
    role: 'operator',
    summary: 'Take a list from a file; nothing is taken if a line has a mistake',
    body: importSchema,
    largest: megabytes(16),
    versioned: true,
    run: async (call) => {
      const { store, params, body } = call;
      const domain = importNamed(params.name);
      if (!domain) throw notFound(`list “${params.name}” that could be taken from a file`);
      if (domain.role === 'administrator' && call.person.role !== 'administrator') {
        const detail = `To take ${domain.many} needs the role administrator; you are ${call.person.role}.`;
        throw new Problem(403, 'Not allowed', detail);
      }
      const { head, lines } = csvInRequest(body.csv, domain.read);
      const version = editVersion(store.db);
      const file = body.name ?? 'a file';
      const ask = [newestSurvey(store), params.name, head, lines, file] as const;
      const planned = await tableAnswers(store).ask('plannedFile', ...ask);
      if (!planned) throw notFound(`list “${params.name}” that could be taken from a file`);
      const answer: FileTold & { version: number; edit?: number } = { ...planned.told, version };
      if (body.preview) return answer;
      const { mistakes } = planned.told;
      if (mistakes.length > 0) throw invalid(fileMistakes(mistakes), 'Nothing was taken: the file has mistakes.');
      const { changes, words } = planned;
      if (changes.length === 0) return answer;
      const { edit } = written(call, domain.editable, { act: domain.act, words, changes });
      return { ...answer, version: edit, edit };
    },
  }),
];
