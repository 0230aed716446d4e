import * as yup from 'yup';
import { outletMistakes, type Outlet } from '../../core/floor/outlet';
import { mediaTypes, tableParts } from '../../deliver/table';
import type { Db, Store } from '../../store/base/database';
import {
  readOutlets,
  recentOutletEdits,
  StaleOutletError,
  undoOutlets,
  writeOutlets,
  type KeptOutlet,
  type OutletWrite,
} from '../../store/outlets';
import { recordAct } from '../../store/audit';
import { line } from '../access/line';
import { invalid, notFound, Problem } from '../access/problem';
import { atSurvey, oneOf, text } from '../api/parameters';
import { megabytes, route } from '../api/route';
import { csvGiven, fileMistakes } from '../files/csvGiven';
import { newestSurvey, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import { outletImportWords, type OutletRow } from './outletRows';

const outletSchema = yup
  .object({
    site: line('The site').required('Say at which site it is'),
    label: line('The label').required('An outlet needs its label'),
    room: line('The room'),
    panel: line('The panel'),
    position: line('The place'),
    device: line('The device'),
    port: line('The port'),
    note: yup.string(),
  })
  .noUnknown();
const importSchema = yup
  .object({ csv: yup.string().required('The file is empty'), name: yup.string().max(200), preview: yup.boolean() })
  .noUnknown();
const shownEdits = 50;

export const outletRoutes = [
  route({
    method: 'GET',
    path: '/outlets',
    role: 'viewer',
    summary: 'Outlets with what is at the other end; as CSV in the shape in which they come in',
    query: yup.object({
      ...atSurvey,
      site: text('only of this site'),
      format: oneOf(['json', 'csv'], 'csv: the file that outlets/imports takes').default('json'),
    }),
    file: { mediaTypes: [mediaTypes.csv], description: 'the file that outlets/imports takes' },
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const site = query.site?.toLowerCase();
      const all = await tableAnswers(store).ask('outletRows', survey, null);
      const rows = all.filter((row) => site === undefined || row.site.toLowerCase() === site);
      return query.format === 'json' ? { rows, total: rows.length, survey } : csvOf(rows);
    },
  }),
  route({
    method: 'POST',
    path: '/outlets',
    role: 'operator',
    summary: 'Enter an outlet',
    body: outletSchema,
    run: async ({ store, person, body }) => {
      const after = await outletOf(store, body);
      const { edit, ids } = written(store.db, person.name, `outlet ${after.label} of ${after.site}`, [
        { before: null, after },
      ]);
      recordAct(store.db, person.name, 'entered an outlet', `${after.label} of ${after.site}`);
      return { id: ids[0] ?? 0, edit };
    },
  }),
  route({
    method: 'PUT',
    path: '/outlets/{id}',
    role: 'operator',
    summary: 'Change an outlet',
    body: outletSchema,
    run: async ({ store, person, params, body }) => {
      const { id, ...before } = outletNumbered(store.db, params.id);
      const after = await outletOf(store, body);
      const { edit } = written(store.db, person.name, `outlet ${after.label} of ${after.site}`, [
        { id, before, after },
      ]);
      recordAct(store.db, person.name, 'changed an outlet', `${after.label} of ${after.site}`);
      return { id, edit };
    },
  }),
  route({
    method: 'DELETE',
    path: '/outlets/{id}',
    role: 'operator',
    summary: 'Delete an outlet',
    run: ({ store, person, params }) => {
      const { id, ...before } = outletNumbered(store.db, params.id);
      const { edit } = written(store.db, person.name, `outlet ${before.label} of ${before.site} deleted`, [
        { id, before, after: null },
      ]);
      recordAct(store.db, person.name, 'deleted an outlet', `${before.label} of ${before.site}`);
      return { edit };
    },
  }),
  route({
    method: 'POST',
    path: '/outlets/imports',
    role: 'operator',
    summary: 'Take outlets from a CSV file; nothing is taken if a line has a mistake',
    body: importSchema,
    largest: megabytes(16),
    run: async ({ store, person, body }) => {
      const file = csvGiven(body.csv);
      const { told, writes } = await tableAnswers(store).ask(
        'plannedOutlets',
        newestSurvey(store),
        file.head,
        file.lines,
      );
      const answer: typeof told & { edit?: number } = told;
      if (body.preview) return answer;
      if (told.mistakes.length > 0) {
        throw invalid(fileMistakes(told.mistakes), 'Nothing was taken: the file has mistakes.');
      }
      if (writes.length === 0) return answer;
      const words = outletImportWords(told, body.name ?? 'a file');
      const { edit } = written(store.db, person.name, words, writes);
      recordAct(store.db, person.name, 'took outlets from a file', words);
      return { ...answer, edit };
    },
  }),
  route({
    method: 'GET',
    path: '/outlets/edits',
    role: 'operator',
    summary: 'Writings of outlets, newest first',
    run: ({ store }) => {
      const rows = recentOutletEdits(store.db, shownEdits);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/outlets/edits/{id}/undo',
    role: 'operator',
    summary: 'Take a writing of outlets back; what was written over since stays',
    run: ({ store, person, params }) => {
      const undone = undoOutlets(store.db, Number(params.id), person.name);
      if (!undone)
        throw new Problem(409, 'Nothing to take back', 'There is no such edit, or it was taken back already.');
      recordAct(store.db, person.name, 'took an edit of outlets back', `edit ${params.id}`);
      return { edit: undone.id, back: undone.back, stay: undone.stay };
    },
  }),
];

/** @throws Problem where there is none */
function outletNumbered(db: Db, id: string): KeptOutlet {
  const found = readOutlets(db).find((one) => one.id === Number(id));
  if (!found) throw notFound(`outlet ${id}`);
  return found;
}

/** An outlet as it is kept, its port found by name. @throws Problem with each mistake at its field */
async function outletOf(store: Store, given: yup.InferType<typeof outletSchema>): Promise<Outlet> {
  const { site, label, room = '', panel = '', position = '', device = '', port = '', note = '' } = given;
  const outlet: Outlet = {
    site: site.trim(),
    label: label.trim(),
    room,
    panel,
    position,
    port: await portNamed(store, device, port),
    note: note.trim(),
  };
  const mistakes = outletMistakes(outlet);
  if (mistakes.length > 0) throw invalid(mistakes.map(({ field, message }) => ({ path: field, message })));
  return outlet;
}

/** The port that is meant; null where none is. @throws Problem where it is not there */
async function portNamed(store: Store, device: string, port: string): Promise<Outlet['port']> {
  if (device === '' && port === '') return null;
  if (device === '') throw invalid([{ path: 'device', message: `On which device is port ${port}?` }]);
  if (port === '') throw invalid([{ path: 'port', message: `Which port of ${device}?` }]);
  const found = await tableAnswers(store).ask('findPortNamed', newestSurvey(store), device, port);
  if (found === 'no device') throw invalid([{ path: 'device', message: `No survey knows a device “${device}”` }]);
  if (found === 'no port') throw invalid([{ path: 'port', message: `${device} has no port “${port}”` }]);
  return found;
}

/** @throws Problem where somebody was faster, or two would be at one place */
function written(db: Db, who: string, words: string, writes: OutletWrite[]): { edit: number; ids: number[] } {
  try {
    return writeOutlets(db, { who, words, writes });
  } catch (error) {
    if (!(error instanceof StaleOutletError)) throw error;
    const { message } = error;
    throw new Problem(409, 'Taken or changed', `${message}. Nothing was written.`, [{ path: 'label', message }]);
  }
}

async function csvOf(rows: OutletRow[]): Promise<Response> {
  const columns = ['site', 'outlet', 'room', 'panel', 'position', 'device', 'port', 'note'];
  const plain = rows.map(({ site, label, room, panel, position, device, port, note }) => ({
    site,
    outlet: label,
    room,
    panel,
    position,
    device,
    port: port?.name ?? '',
    note,
  }));
  const parts: (string | Uint8Array)[] = [];
  for await (const part of tableParts('csv', plain, 'Outlets', columns)) parts.push(part);
  return new Response(parts.join(''), {
    headers: {
      'content-type': mediaTypes.csv,
      'content-disposition': 'attachment; filename="bolide-outlets.csv"',
      'cache-control': 'no-store',
    },
  });
}
